import { describe, expect, test } from "@jest/globals";
import { rulerTicks, type RulerScale } from "./rulerTicks";

const CSS_PX_PER_MM = 96 / 25.4;
const at = (scale: number, more: Partial<RulerScale> = {}): RulerScale => ({
  pxPerMm: CSS_PX_PER_MM / scale,
  unit: "mm",
  from: 0,
  length: 1000,
  ...more,
});
const labels = (scale: RulerScale) =>
  rulerTicks(scale).flatMap(({ label }) => (label === undefined ? [] : [label]));

describe("rulerTicks", () => {
  test("at 1:10 numbers stand every 200 mm, at their true place", () => {
    expect(labels(at(10)).slice(0, 4)).toEqual(["0", "200", "400", "600"]);
    const tick = rulerTicks(at(10)).find(({ label }) => label === "400")!;
    expect(tick.at).toBeCloseTo((400 / 10) * CSS_PX_PER_MM, 9);
  });

  test.each([1, 2, 5, 10, 20, 50, 100])("at 1:%i numbers neither touch nor are rare", (scale) => {
    const majors = rulerTicks(at(scale)).filter(({ label }) => label !== undefined);
    for (let i = 1; i < majors.length; i++) {
      const gap = majors[i].at - majors[i - 1].at;
      expect(gap).toBeGreaterThanOrEqual(69.9);
      expect(gap).toBeLessThanOrEqual(180);
    }
    expect(majors.length).toBeGreaterThan(4);
  });

  test.each([
    ["cm", 10, ["0", "20", "40"]],
    ["m", 10, ["0", "0.2", "0.4"]],
    ["in", 10, ["0", "10", "20"]],
  ] as const)("in %s the numbers are in that unit", (unit, scale, first) => {
    expect(labels(at(scale, { unit })).slice(0, 3)).toEqual(first);
  });

  test("a ruler that begins in the middle keeps its divisions on round numbers", () => {
    const shifted = rulerTicks(at(10, { from: 130 }));
    const tick = shifted.find(({ label }) => label === "200")!;
    expect(tick.at).toBeCloseTo((70 / 10) * CSS_PX_PER_MM, 9);
    expect(labels(at(10, { from: -250 }))[0]).toBe("-200");
    expect(shifted.every(({ at }) => at >= -1e-6 && at <= 1000 + 1e-6)).toBe(true);
  });

  test("minor divisions part a major one into four or five", () => {
    for (const [scale, parts] of [
      [10, 4],
      [5, 5],
    ] as const) {
      const ticks = rulerTicks(at(scale));
      const majors = ticks.flatMap(({ label }, i) => (label === undefined ? [] : [i]));
      expect(majors[1] - majors[0]).toBe(parts);
    }
  });

  test("pixels of an image are counted as they are", () => {
    expect(labels({ pxPerMm: 0.6, unit: "px", from: 0, length: 600 })).toEqual([
      "0",
      "200",
      "400",
      "600",
      "800",
      "1000",
    ]);
  });

  test("an absurd zoom cannot fill the page with divisions", () => {
    expect(rulerTicks({ pxPerMm: 1e-7, unit: "mm", from: 0, length: 1e9 }).length).toBeLessThanOrEqual(800);
  });
});
