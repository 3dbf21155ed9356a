import { expect, test } from "@jest/globals";
import { roughnessSpread } from "#core/finish/roughnessSpread";
import { seededRandom } from "#core/pattern/random";

const random = seededRandom(77);
const values = Array.from({ length: 4000 }, () => 0.3 + 0.4 * random());

test("a roughness that nothing is done to spreads as it came", () => {
  const spread = roughnessSpread(values, {});
  expect(spread.after).toEqual(spread.before);
  expect(spread.flattened).toBe(0);
  expect(spread.before.reduce((sum, share) => sum + share)).toBeCloseTo(1, 6);
  expect(spread.mean.before).toBeCloseTo(0.5, 1);
});

test("scaled by 0.7 it lies lower and closer, with all of its detail", () => {
  const spread = roughnessSpread(values, { roughnessScale: 0.7 });
  expect(spread.mean.after).toBeCloseTo(0.7 * spread.mean.before, 6);
  expect(spread.flattened).toBe(0);
  const filled = (shares: number[]) => shares.filter((share) => share > 0).length;
  expect(filled(spread.after)).toBeLessThan(filled(spread.before));
});

test("pressed into a range, what ends at its limits is said", () => {
  const { flattened, after } = roughnessSpread(values, { roughnessRange: [0.4, 0.6] });
  expect(flattened).toBeGreaterThan(0.4);
  expect(flattened).toBeLessThan(0.6);
  expect(after.slice(25).every((share) => share === 0)).toBe(true);
  expect(roughnessSpread([0, 1, 1], { roughnessRange: [0, 0.5] }).flattened).toBe(0);
});
