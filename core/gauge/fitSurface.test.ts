import { describe, expect, test } from "@jest/globals";
import { cutsOf, divisions, equalCuts, STARTS } from "#core/gauge/fitSurface";

const brick = { coordinating: 225, joint: 10 };

describe("dividing a surface", () => {
  test("into whole modules with joints between them only, and into whole repeats", () => {
    // Ten bricks and nine joints are 2240 mm long.
    const found = divisions({ length: 2240, ...brick }, 900);
    expect(found[0]).toEqual({ unit: "modules", count: 10, size: 225, changePercent: 0 });
    const repeats = found.filter(({ unit }) => unit === "repeats");
    expect(repeats.map(({ count }) => count).toSorted()).toEqual([2, 3]);
    expect(repeats.find(({ count }) => count === 2)!.changePercent).toBeCloseTo((1120 / 900 - 1) * 100, 10);
  });

  test("lists the least change first, and never nothing at all", () => {
    const found = divisions({ length: 300, ...brick }, 900);
    expect(found.every(({ count }) => count >= 1)).toBe(true);
    const changes = found.map(({ changePercent }) => Math.abs(changePercent));
    expect(changes).toEqual(changes.toSorted((a, b) => a - b));
  });

  test.each([
    [{ length: 0, ...brick }, "length"],
    [{ length: 100, ...brick }, "length"],
    [{ length: 1000, coordinating: 0, joint: 0 }, "coordinating"],
    [{ length: 1000, coordinating: 10, joint: 10 }, "joint"],
  ])("refuses %j by its field", (run, field) => {
    expect(() => divisions(run, 900)).toThrow(expect.objectContaining({ field }));
  });
});

describe("the cut pieces of a course", () => {
  const length = 2000;

  test.each(STARTS)("with its start at %s, pieces and joints together fill the surface", (start) => {
    for (const shift of [0, 1 / 2, 1 / 3]) {
      const { first, whole, last, origin } = cutsOf({ length, ...brick }, start, shift);
      expect(origin).toBeGreaterThanOrEqual(0);
      expect(origin).toBeLessThan(225);
      const pieces = [first, ...Array.from({ length: whole }, () => 215), last].filter((piece) => piece > 0);
      const sum = pieces.reduce((a, b) => a + b, 0) + 10 * (pieces.length - 1);
      // A joint may lie right at an end.
      expect(Math.abs(length - sum)).toBeLessThanOrEqual(10.01);
    }
  });

  test("from the corner all the rest lies at the other end", () => {
    expect(cutsOf({ length, ...brick }, "corner")).toMatchObject({
      origin: 0,
      first: 0,
      whole: 8,
      last: 200,
    });
    expect(cutsOf({ length: 2240, ...brick }, "corner")).toMatchObject({ whole: 10, last: 0 });
  });

  test("centred ones are equal at both ends", () => {
    for (const start of ["module", "joint"] as const) {
      const { first, last } = cutsOf({ length, ...brick }, start);
      expect(first).toBeCloseTo(last, 6);
    }
  });

  test("equal cuts avoid slivers", () => {
    // 1815 mm: with a joint in the middle 4 bricks and two pieces of 2.5 mm; with a brick there, two of 115 mm.
    const cuts = equalCuts({ length: 1815, ...brick });
    expect(cuts.first).toBeCloseTo(cuts.last, 6);
    expect(cuts.first).toBeGreaterThan(100);
  });
});
