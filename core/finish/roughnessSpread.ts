import { adjustedRoughness, roughnessAdjustment } from "#core/finish/roughnessAdjustment";
import type { Finish } from "#core/finish/finish";

const BINS = 40;

/** How the values of a roughness map spread, before and after its adjustment. */
export interface RoughnessSpread {
  /** Shares of all values, from smooth to rough. */
  before: number[];
  after: number[];
  mean: { before: number; after: number };
  /** Of the values, so much ends at a limit where it did not before: there the detail is lost. */
  flattened: number;
}

/** @param values roughness 0..1, as the map came (gloss inverted) */
export function roughnessSpread(
  values: ArrayLike<number>,
  finish: Pick<Finish, "roughnessScale" | "roughnessShift" | "roughnessRange">,
): RoughnessSpread {
  const adjustment = roughnessAdjustment(finish);
  const before = new Array<number>(BINS).fill(0);
  const after = new Array<number>(BINS).fill(0);
  const { low = 0, high = 1 } = adjustment ?? {};
  const binOf = (value: number) => Math.min(BINS - 1, Math.floor(value * BINS));
  const count = Math.max(1, values.length);
  let [sum, sumAfter, flattened] = [0, 0, 0];
  for (let i = 0; i < values.length; i++) {
    const value = values[i];
    const worked = Math.min(1, Math.max(0, adjustedRoughness(value, adjustment)));
    before[binOf(value)] += 1 / count;
    after[binOf(worked)] += 1 / count;
    sum += value / count;
    sumAfter += worked / count;
    if (adjustment && (worked <= low || worked >= high) && value > 0 && value < 1) flattened += 1 / count;
  }
  return { before, after, mean: { before: sum, after: sumAfter }, flattened };
}
