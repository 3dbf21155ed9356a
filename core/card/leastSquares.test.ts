import { describe, expect, test } from "@jest/globals";
import { addRow, leastSquares, PRODUCTS } from "#core/card/leastSquares";
import { seededRandom } from "#core/pattern/random";

const random = seededRandom(5);
const ROWS = Array.from({ length: 12 }, () => [random(), random(), random()] as const);

const solved = (rows: readonly (readonly number[])[], lights: readonly number[]) => {
  const sums = new Float64Array(PRODUCTS);
  rows.forEach(([x, y, z], at) => addRow(sums, x, y, z, lights[at], 1));
  return leastSquares(sums);
};
const made = ([a, b, c]: readonly number[]) => ROWS.map(([x, y, z]) => a * x + b * y + c * z);
const squaresOf = ([a, b, c]: readonly number[], lights: readonly number[]) =>
  made([a, b, c]).reduce((sum, light, at) => sum + (light - lights[at]) ** 2, 0);

describe("amounts of three parts of a light", () => {
  test("come back from what they make", () => {
    const { amounts, squares } = solved(ROWS, made([0.2, 1.5, 0.7]));
    [0.2, 1.5, 0.7].forEach((amount, at) => expect(amounts[at]).toBeCloseTo(amount, 6));
    expect(squares).toBeCloseTo(0, 9);
  });

  test.each([[[1, -0.4, 0.5]], [[-0.3, -0.2, 0.8]], [[-1, 0.6, -0.2]], [[-1, -1, -1]]])(
    "are never less than none, and none fit better: %j",
    (wanted) => {
      const lights = made(wanted);
      const { amounts, squares } = solved(ROWS, lights);
      expect(Math.min(...amounts)).toBeGreaterThanOrEqual(0);
      expect(squares).toBeCloseTo(squaresOf(amounts, lights), 6);
      const steps = Array.from({ length: 21 }, (_, step) => step / 10);
      const tried = steps.flatMap((a) =>
        steps.flatMap((b) => steps.map((c) => squaresOf([a, b, c], lights))),
      );
      expect(Math.min(...tried)).toBeGreaterThanOrEqual(squares - 1e-9);
    },
  );

  test("of rows that are taken off again are those of the rest", () => {
    const lights = made([0.5, 0.1, 0.9]).map((light, at) => light + 0.05 * (at % 3));
    const sums = new Float64Array(PRODUCTS);
    ROWS.forEach(([x, y, z], at) => addRow(sums, x, y, z, lights[at], 1));
    addRow(sums, ...ROWS[0], lights[0], -1);
    const without = solved(ROWS.slice(1), lights.slice(1));
    leastSquares(sums).amounts.forEach((amount, at) => expect(amount).toBeCloseTo(without.amounts[at], 9));
  });
});
