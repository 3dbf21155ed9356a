import { describe, expect, test } from "@jest/globals";
import { combOf, lineOf } from "#core/gauge/counting/combs";
import { copiesIn } from "#core/gauge/counting/copies";
import { areFlanks, beds, wavesIn } from "#core/gauge/counting/courses";
import { evidenceOf } from "#core/gauge/counting/evidence";
import { proposeLattices } from "#core/gauge/counting/proposeLattices";
import { latticeJudge } from "#core/gauge/counting/verifyLattice";
import { bedPlainness } from "#core/gauge/counting/plainness";
import { noise, painted, rows, SIDE } from "#core/gauge/testing";
import { seededRandom } from "#core/pattern/random";
import type { Plane } from "#core/raster/plane";

/** Bricks of 64 × 32 px in half bond. */
const wall = painted((x, y) => {
  const course = Math.floor(y / 32);
  return y % 32 < 2 || (x + 32 * (course % 2)) % 64 < 2 ? 0 : 1;
});

describe("a comb", () => {
  const peaks = (places: number[]) => {
    const profile = new Float32Array(240).fill(0.1);
    for (const at of places) profile[at] = 2;
    return lineOf(profile);
  };
  const every = (pitch: number) => Array.from({ length: 240 / pitch }, (_, k) => 7 + k * pitch);

  test("stands where the peaks are, with nothing between", () => {
    const comb = combOf(peaks(every(24)), 10)!;
    expect(comb.count).toBe(10);
    expect(comb.weakest).toBeCloseTo(1, 4);
    expect(Math.abs(comb.first - 7)).toBeLessThanOrEqual(2);
    expect(comb.finer).toBeLessThan(0.1);
  });

  test("that is too fine misses every second place, and one that is too coarse finds another comb between", () => {
    expect(combOf(peaks(every(24)), 20)!.weakest).toBeLessThan(0.1);
    expect(combOf(peaks(every(24)), 5)!.finer).toBeGreaterThan(0.9);
  });

  test("finds the second head of a pair", () => {
    const pairs = every(48).flatMap((at) => [at, at + 32]);
    expect(combOf(peaks(pairs), 5)!.second.offset).toBeCloseTo(2 / 3, 1);
  });

  test("is none on a flat profile", () => {
    expect(combOf(lineOf(new Float32Array(64).fill(0.3)), 4)).toBeUndefined();
  });
});

describe("beds", () => {
  const plainest = (plane: Plane) =>
    beds(evidenceOf([plane]), "down")
      .filter(({ count }) => count > 1)
      .sort((a, b) => bedPlainness(b) - bedPlainness(a))[0];

  test("are counted in noise, and where every second one is fainter", () => {
    for (const strength of [0, 0.1, 0.4]) expect(plainest(rows(strength)).count).toBe(8);
    expect(plainest(rows(0.05, 0.7)).count).toBe(8);
  });

  test("of noise alone are nowhere near as plain", () => {
    expect(bedPlainness(plainest(rows(0.2)))).toBeGreaterThan(
      3 * bedPlainness(plainest(painted(noise(8, 0.2)))),
    );
  });

  test("are not the blocks of a JPEG", () => {
    const grain = noise(6, 0.05);
    const blocks = painted((_, y) => 0.5 + (y % 8 === 7 ? 0.1 : 0) + grain());
    expect(beds(evidenceOf([blocks]), "down").map(({ count }) => count)).not.toContain(32);
  });
});

describe("a corrugated sheet", () => {
  const sheet = painted((x) => 0.5 + 0.3 * Math.sin((2 * Math.PI * 10 * x) / SIDE));

  test("has two flanks to each wave", () => {
    expect(areFlanks(evidenceOf([sheet]), "across", 20)).toBe(true);
    expect(areFlanks(evidenceOf([rows(0.05)]), "down", 8)).toBe(false);
  });

  test("is counted by its lightness, and noise is no wave", () => {
    expect(wavesIn(evidenceOf([sheet]), "across")).toMatchObject({ count: 10 });
    expect(wavesIn(evidenceOf([sheet]), "across")!.share).toBeGreaterThan(0.9);
    expect(wavesIn(evidenceOf([painted(noise(4, 0.3))]), "across")!.share).toBeLessThan(0.5);
  });
});

describe("lattices of translations", () => {
  const evidence = evidenceOf([wall]);
  const judge = latticeJudge(evidence);
  const half = { across: 4, down: 8, turns: 1, steps: 2 };

  test("the true one is proposed first, and holds at all its places", () => {
    expect(proposeLattices(evidence, 4)[0].model).toEqual(half);
    const { likeness, weakestLikeness, between, mean } = judge(half);
    expect(weakestLikeness).toBeGreaterThan(0.8 * likeness);
    expect(between).toBeLessThan(0.3 * mean);
  });

  test("one that is too fine has places that are not alike, and one that is too coarse is alike between its places", () => {
    const fine = judge({ across: 8, down: 8, turns: 0, steps: 1 });
    expect(fine.weakestLikeness).toBeLessThan(0.5 * fine.likeness);
    const coarse = judge({ across: 4, down: 4, turns: 0, steps: 1 });
    expect(coarse.between).toBeGreaterThan(0.8 * coarse.mean);
  });

  test("of noise no lattice holds", () => {
    const grain = evidenceOf([painted(noise(9, 0.4))]);
    const look = latticeJudge(grain);
    for (const { model } of proposeLattices(grain, 6)) expect(look(model).likeness).toBeLessThan(0.05);
  });
});

describe("a picture that holds itself", () => {
  const random = seededRandom(12);
  const tile = Float32Array.from({ length: 80 * 64 }, () => random());
  const laid = painted((x, y) => tile[(y % 64) * 80 + (x % 80)], 240, 128);

  test("three times across and twice down is told so, through noise as well", () => {
    expect(copiesIn(laid)).toMatchObject({ across: 3, down: 2 });
    const grain = noise(2, 0.15);
    expect(copiesIn({ ...laid, data: laid.data.map((v) => v + grain()) })).toMatchObject({
      across: 3,
      down: 2,
    });
  });

  test("but once is not, and joints alone are no copy", () => {
    expect(copiesIn(painted(noise(5, 0.5)))).toMatchObject({
      across: 1,
      down: 1,
    });
    const grain = noise(7, 0.3);
    expect(copiesIn({ ...wall, data: wall.data.map((v) => v + grain()) })).toMatchObject({
      across: 1,
      down: 1,
    });
  });
});
