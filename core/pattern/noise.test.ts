import { describe, expect, test } from "@jest/globals";
import { modulo, periodicFbm, periodicNoise, smoothstep } from "#core/pattern/noise";
import { hash, seededRandom } from "#core/pattern/random";

describe("seededRandom", () => {
  test("gives the same stream for a seed, another for another, evenly from 0 to 1", () => {
    const stream = (seed: number) => Array.from({ length: 5000 }, seededRandom(seed));
    expect(stream(7)).toEqual(stream(7));
    expect(stream(7)).not.toEqual(stream(8));
    const numbers = stream(7);
    expect(Math.min(...numbers)).toBeGreaterThanOrEqual(0);
    expect(Math.max(...numbers)).toBeLessThan(1);
    expect(numbers.reduce((a, b) => a + b, 0) / numbers.length).toBeCloseTo(0.5, 1);
  });
});

describe("hash", () => {
  test("neighbours have nothing to do with each other", () => {
    const row = Array.from({ length: 2000 }, (_, x) => hash(x, 3, 1) - 0.5);
    const product = row.slice(1).reduce((sum, v, i) => sum + v * row[i], 0) / row.length;
    expect(Math.abs(product)).toBeLessThan(0.01);
    expect(new Set(row).size).toBeGreaterThan(1990);
  });
});

describe("periodic noise", () => {
  test.each([
    [1, 1],
    [3, 7],
    [40, 2],
  ])("begins again after one, on a lattice of %i × %i", (cellsX, cellsY) => {
    for (const [u, v] of [
      [0.1, 0.9],
      [0.5, 0.5],
      [0.999, 0.001],
    ]) {
      const here = periodicNoise(u, v, cellsX, cellsY, 5);
      for (const [du, dv] of [
        [1, 0],
        [0, 1],
        [-2, 3],
      ])
        expect(periodicNoise(u + du, v + dv, cellsX, cellsY, 5)).toBeCloseTo(here, 9);
      const sum = periodicFbm(u, v, cellsX, cellsY, 4, 5);
      expect(periodicFbm(u + 1, v - 1, cellsX, cellsY, 4, 5)).toBeCloseTo(sum, 9);
    }
  });

  test("stays within −1 and 1, and is continuous", () => {
    let before = periodicFbm(0, 0.3, 8, 8, 3, 2);
    for (let u = 0; u < 1; u += 0.0005) {
      const now = periodicFbm(u, 0.3, 8, 8, 3, 2);
      expect(Math.abs(now)).toBeLessThanOrEqual(1);
      expect(Math.abs(now - before)).toBeLessThan(0.05);
      before = now;
    }
  });
});

test("modulo is never negative, and smoothstep is flat outside", () => {
  expect([modulo(-1, 4), modulo(4, 4), modulo(-4.5, 4)]).toEqual([3, 0, 3.5]);
  expect([smoothstep(2, 4, 1), smoothstep(2, 4, 3), smoothstep(2, 4, 9)]).toEqual([0, 0.5, 1]);
});
