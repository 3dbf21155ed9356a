import { describe, expect, test } from "@jest/globals";
import { coordinatingOf, doubleLap, fittingFormats, FORMATS } from "#core/gauge/formats";

const named = (id: string) => FORMATS.find((format) => format.id === id)!;

describe("standard formats", () => {
  test("have ids of their own, a size that can be, and a source", () => {
    expect(new Set(FORMATS.map(({ id }) => id)).size).toBe(FORMATS.length);
    for (const format of FORMATS) {
      const { width = 100, height = 100 } = coordinatingOf(format);
      expect([format.id, width > 5 && width < 4000 && height > 5 && height < 4000]).toEqual([
        format.id,
        true,
      ]);
      expect(format.source).not.toBe("");
      expect(format.workSize === undefined).toBe(format.coverSize !== undefined);
    }
  });

  // What people of the trade know by heart: so many courses rise so much.
  test.each([
    ["brick-gb", 12, 900],
    ["brick-de-nf", 3, 250],
    ["brick-de-df", 4, 250],
    ["brick-de-2df", 2, 250],
    ["brick-dk", 3, 200],
    ["brick-us-modular", 3, 203.2],
    ["brick-us-engineer", 5, 406.4],
    ["brick-us-roman", 2, 101.6],
    ["brick-au", 7, 602],
    ["block-gb", 4, 900],
    ["block-us", 1, 203.2],
    ["tile-m15", 2, 300],
  ])("%s: %d courses rise %d mm", (id, courses, mm) => {
    expect(courses * coordinatingOf(named(id)).height!).toBeCloseTo(mm, 1);
  });

  test("slates show half of what the lap leaves of their length", () => {
    expect(doubleLap(500, 100)).toBe(200);
    expect(coordinatingOf(named("slate-500x250"))).toEqual({ width: 254, height: 200 });
  });

  test("what one piece looks like is the module", () => {
    expect(coordinatingOf(named("mosaic-sheet-300"))).toEqual({ width: 50, height: 50 });
    expect(coordinatingOf(named("board-panel-twin"))).toEqual({ height: 100 });
  });
});

describe("formats that fit what was counted", () => {
  test("the brick of the picture comes first, lying or standing", () => {
    const [lying] = fittingFormats({ width: 225, height: 75 });
    expect(lying.turned).toBe(false);
    expect(Math.abs(lying.stretchPercent)).toBeLessThan(0.01);
    expect(fittingFormats({ width: 225, height: 75 }, 3).map(({ format }) => format.id)).toContain(
      "brick-gb",
    );
    const [standing] = fittingFormats({ width: 75, height: 225 });
    expect(standing.turned).toBe(true);
  });

  test("come with the stretch that they would cost", () => {
    const fits = fittingFormats({ width: 256, height: 128 }, 40);
    const paving = fits.find(({ format }) => format.id === "paving-200x100")!;
    expect(paving.stretchPercent).toBeCloseTo((2 / (203 / 103) - 1) * 100, 6);
    const costs = fits.map(({ stretchPercent }) => Math.abs(stretchPercent));
    expect(costs).toEqual(costs.toSorted((a, b) => a - b));
  });
});
