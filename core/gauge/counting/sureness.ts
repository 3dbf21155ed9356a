import type { Reading } from "#core/gauge/counting/readings";

/**
 * How likely a reading is right, by logistic regression on its signs: the weights come from `bench/calibrate.ts`, which fits
 * them to patterns of both generators, and are judged on others by `bench/holdout.ts`.
 */
export function surenessOf({ kind, signs }: Reading): number {
  const { constant, weights } = WEIGHTS[kind];
  let sum = constant;
  for (const [sign, weight] of Object.entries(weights)) sum += weight * (signs[sign] ?? 0);
  return 1 / (1 + Math.exp(-sum));
}

const WEIGHTS: Record<Reading["kind"], { constant: number; weights: Record<string, number> }> = {
  // 115 of 136 were right.
  bonded: {
    constant: -3.16,
    weights: { bed: 0.34, head: 3.07, present: -1.93, lead: 2.12, agrees: 1.19, like: -2.93, other: -0.46 },
  },
  // 50 of 60 were right.
  lattice: {
    constant: -15.38,
    weights: { like: -0.38, holds: 14, lift: 1.58, apart: 1.92, cells: 0.56, named: -0.38 },
  },
  // 50 of 103 were right.
  stripes: {
    constant: 1.13,
    weights: { bed: 0.92, level: -0.11, lead: -0.14, present: 0.05, other: -0.87, heads: -3.03, like: -6.31 },
  },
  // 68 of 77 were right. By hand: made-up surfaces that hold themselves are few, and were mostly patterns that were not found
  // (like −3.03, itself −6.66 by the fit), while real ones are mostly right; and a grid with gaps (0.37) is never sure.
  nothing: {
    constant: 5.25,
    weights: {
      stripes: 1.34,
      bonded: 0.14,
      like: -1,
      level: -3.56,
      waves: 2.14,
      itself: -3.5,
      gaps: -3,
    },
  },
  // 7 of 7, and 1 of 2: too few for more than the share, with one more of either kind.
  waves: { constant: 2.1, weights: {} },
  grid: { constant: 0, weights: {} },
};
