/** Signs of one statement, and whether it held. */
export interface Example {
  signs: Record<string, number>;
  right: boolean;
}

export interface Weights {
  constant: number;
  weights: Record<string, number>;
}

/** How much large weights cost, on signs of spread 1. */
const RIDGE = 2;
const ROUNDS = 4000;
const STEP = 0.3;

/** Logistic regression with a ridge, by gradient descent on signs that are brought to spread 1. */
export function fitLogistic(examples: Example[]): Weights {
  const names = [...new Set(examples.flatMap(({ signs }) => Object.keys(signs)))];
  const moments = names.map((name) => {
    const values = examples.map(({ signs }) => signs[name] ?? 0);
    const mean = values.reduce((sum, v) => sum + v, 0) / values.length;
    const spread = Math.sqrt(values.reduce((sum, v) => sum + (v - mean) ** 2, 0) / values.length);
    return { mean, spread: spread || 1 };
  });
  const rows = examples.map(({ signs }) =>
    names.map((name, i) => ((signs[name] ?? 0) - moments[i].mean) / moments[i].spread),
  );
  const weights = names.map(() => 0);
  let constant = 0;
  for (let round = 0; round < ROUNDS; round++) {
    const slopes = weights.map((weight) => (RIDGE * weight) / examples.length);
    let slope = 0;
    rows.forEach((row, n) => {
      const sum = row.reduce((total, v, i) => total + v * weights[i], constant);
      const off = (1 / (1 + Math.exp(-sum)) - (examples[n].right ? 1 : 0)) / examples.length;
      slope += off;
      row.forEach((v, i) => (slopes[i] += off * v));
    });
    constant -= STEP * slope;
    slopes.forEach((s, i) => (weights[i] -= STEP * s));
  }
  const raw = Object.fromEntries(names.map((name, i) => [name, weights[i] / moments[i].spread]));
  return {
    constant: constant - names.reduce((sum, name, i) => sum + raw[name] * moments[i].mean, 0),
    weights: raw,
  };
}
