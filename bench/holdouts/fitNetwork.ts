import type { Network } from "#core/gauge/counting/network";

/** The candidates of one picture, the last of them that none is right, and which are. */
export interface Choice {
  signs: Record<string, number>[];
  right: boolean[];
  /** How much it counts. */
  weight: number;
}

export interface Fit {
  units: number;
  /** How much large weights cost. */
  ridge: number;
  rounds: number;
  random: () => number;
}

const STEP = 0.01;
const UNFELT = 1e-4;
/** Of Adam (Kingma and Ba 2015). */
const [FIRST, SECOND, LEAST] = [0.9, 0.999, 1e-8];

/**
 * A network that chooses among candidates: maximum likelihood of the right ones under the softmax over each picture, with a ridge,
 * by Adam on all pictures at once with a step that falls as a cosine. Signs are brought to mean 0 and spread 1 first, which is
 * worked into the weights at the end.
 * @param names of all signs, in the order of the weights
 */
export function fitNetwork(
  choices: Choice[],
  names: readonly string[],
  { units, ridge, rounds, random }: Fit,
): Network {
  const side = names.length;
  const place = new Map(names.map((name, i) => [name, i]));
  const count = choices.reduce((sum, { signs }) => sum + signs.length, 0);
  const rows = new Float32Array(count * side);
  const starts: number[] = [];
  const isRight = new Uint8Array(count);
  let row = 0;
  for (const { signs, right } of choices) {
    starts.push(row);
    signs.forEach((one, i) => {
      for (const [name, value] of Object.entries(one)) rows[row * side + place.get(name)!] = value;
      isRight[row++] = right[i] ? 1 : 0;
    });
  }
  const { mean, spread } = standardise(rows, side);
  const all = choices.reduce((sum, { weight }) => sum + weight, 0);
  // Straight weights, the units' weights one after another, their offsets and what comes out of them.
  const size = side + units * side + 2 * units;
  const [offsets, outs] = [side + units * side, side + units * side + units];
  const gauss = () => Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random());
  const weights = Float64Array.from({ length: size }, (_, i) =>
    i < side ? 0 : i < offsets ? gauss() / Math.sqrt(side) : i < outs ? 0 : 0.1 * gauss(),
  );
  const moments = [new Float64Array(size), new Float64Array(size)];
  const kept = new Float64Array(count * units);
  const worths = new Float64Array(count);
  for (let round = 1; round <= rounds; round++) {
    const slopes = new Float64Array(size);
    weighRows(rows, weights, side, units, worths, kept);
    starts.forEach((start, n) => {
      const end = starts[n + 1] ?? count;
      const { weight } = choices[n];
      let most = -Infinity;
      for (let i = start; i < end; i++) most = Math.max(most, worths[i]);
      let [total, held] = [0, 0];
      for (let i = start; i < end; i++) {
        const share = Math.exp(worths[i] - most);
        total += share;
        if (isRight[i]) held += share;
      }
      for (let i = start; i < end; i++) {
        const share = Math.exp(worths[i] - most);
        const off = ((share / total - (isRight[i] ? share / Math.max(held, 1e-12) : 0)) * weight) / all;
        // Most candidates have no share worth the while.
        if (Math.abs(off) * all < UNFELT) continue;
        addSlopes(rows, weights, side, units, i, off, kept, slopes);
      }
    });
    const step = STEP * 0.5 * (1 + Math.cos((Math.PI * round) / rounds));
    for (let w = 0; w < size; w++) {
      const slope = slopes[w] + (w < offsets || w >= outs ? 2 * ridge * weights[w] : 0);
      moments[0][w] = FIRST * moments[0][w] + (1 - FIRST) * slope;
      moments[1][w] = SECOND * moments[1][w] + (1 - SECOND) * slope * slope;
      const [first, second] = [moments[0][w] / (1 - FIRST ** round), moments[1][w] / (1 - SECOND ** round)];
      weights[w] -= (step * first) / (Math.sqrt(second) + LEAST);
    }
  }
  const own = (from: number) => names.map((_, k) => weights[from + k] / spread[k]);
  return {
    straight: own(0),
    units: Array.from({ length: units }, (_, u) => {
      const inputs = own(side + u * side);
      const offset = weights[offsets + u] - inputs.reduce((sum, w, k) => sum + w * mean[k], 0);
      return { weights: inputs, offset, out: weights[outs + u] };
    }),
  };
}

/** What each row is worth, and the curve of each unit in it. */
function weighRows(
  rows: Float32Array,
  weights: Float64Array,
  side: number,
  units: number,
  worths: Float64Array,
  kept: Float64Array,
): void {
  const [offsets, outs] = [side + units * side, side + units * side + units];
  for (let i = 0, from = 0; i < worths.length; i++, from += side) {
    let worth = 0;
    for (let k = 0; k < side; k++) worth += rows[from + k] * weights[k];
    for (let u = 0; u < units; u++) {
      const own = side + u * side;
      let sum = weights[offsets + u];
      for (let k = 0; k < side; k++) sum += rows[from + k] * weights[own + k];
      const curve = Math.tanh(sum);
      kept[i * units + u] = curve;
      worth += curve * weights[outs + u];
    }
    worths[i] = worth;
  }
}

/** Adds what one row has to do with the slope of each weight. @param off by how much its share is too large */
function addSlopes(
  rows: Float32Array,
  weights: Float64Array,
  side: number,
  units: number,
  row: number,
  off: number,
  kept: Float64Array,
  slopes: Float64Array,
): void {
  const [offsets, outs] = [side + units * side, side + units * side + units];
  const from = row * side;
  for (let k = 0; k < side; k++) slopes[k] += off * rows[from + k];
  for (let u = 0; u < units; u++) {
    const curve = kept[row * units + u];
    const slope = off * weights[outs + u] * (1 - curve * curve);
    slopes[outs + u] += off * curve;
    slopes[offsets + u] += slope;
    const own = side + u * side;
    for (let k = 0; k < side; k++) slopes[own + k] += slope * rows[from + k];
  }
}

/** Brings each column to mean 0 and spread 1, in place. */
function standardise(rows: Float32Array, side: number): { mean: number[]; spread: number[] } {
  const count = rows.length / side;
  const mean: number[] = [];
  const spread: number[] = [];
  for (let k = 0; k < side; k++) {
    let [sum, squares] = [0, 0];
    for (let i = k; i < rows.length; i += side) sum += rows[i];
    mean[k] = sum / count;
    for (let i = k; i < rows.length; i += side) squares += (rows[i] - mean[k]) ** 2;
    spread[k] = Math.sqrt(squares / count) || 1;
    for (let i = k; i < rows.length; i += side) rows[i] = (rows[i] - mean[k]) / spread[k];
  }
  return { mean, spread };
}
