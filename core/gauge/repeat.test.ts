import { describe, expect, test } from "@jest/globals";
import { GaugeError, gaugeRepeat, type RepeatMethod } from "#core/gauge/repeat";

const square = { width: 1024, height: 1024 };
const paving: RepeatMethod = {
  method: "modules",
  across: 4,
  up: 8,
  workSize: { width: 200, height: 100 },
  joint: 3,
};

describe("gaugeRepeat", () => {
  test("counts modules: 4 × (200 + 3) by 8 × (100 + 3)", () => {
    const result = gaugeRepeat(square, paving);
    expect(result.repeat).toEqual({ width: 812, height: 824 });
    expect(result.stretchPercent).toBeCloseTo((824 / 812 - 1) * 100, 10);
    expect(result.stretchPercent).toBeCloseTo(1.478, 3);
    expect(result.densityX).toBeCloseTo(1261.08, 2);
    expect(result.densityY).toBeCloseTo(1242.72, 2);
  });

  test("keeps proportions by width or by height, and still says what the numbers disagreed by", () => {
    expect(gaugeRepeat(square, paving, "width").repeat).toEqual({ width: 812, height: 812 });
    expect(gaugeRepeat(square, paving, "height").repeat).toEqual({ width: 824, height: 824 });
    expect(gaugeRepeat(square, paving, "width").stretchPercent).toBe(0);
    expect(gaugeRepeat(square, paving, "width").disagreementPercent).toBeCloseTo(1.478, 3);
  });

  test("takes a joint of its own between courses, and cover sizes for lapped products", () => {
    expect(gaugeRepeat(square, { ...paving, jointVertical: 5 }).repeat.height).toBe(840);
    expect(
      gaugeRepeat(square, { method: "modules", across: 3, up: 10, coverSize: { width: 250, height: 105 } })
        .repeat,
    ).toEqual({ width: 750, height: 1050 });
  });

  test("counts one direction alone for boards of random length, and the other follows from the pixels", () => {
    const boards: RepeatMethod = { method: "modules", across: 8, workSize: { width: 118 }, joint: 2 };
    expect(gaugeRepeat({ width: 512, height: 1024 }, boards).repeat).toEqual({ width: 960, height: 1920 });
    const courses: RepeatMethod = { method: "modules", up: 10, coverSize: { height: 105 } };
    expect(gaugeRepeat({ width: 500, height: 1000 }, courses).repeat).toEqual({ width: 525, height: 1050 });
  });

  test("an overall width alone keeps the pixels' proportions", () => {
    expect(gaugeRepeat({ width: 2048, height: 1024 }, { method: "size", width: 600 }).repeat).toEqual({
      width: 600,
      height: 300,
    });
    expect(gaugeRepeat(square, { method: "size", width: 600, height: 300 }).stretchPercent).toBeCloseTo(
      -50,
      10,
    );
  });

  test("a slanting line gives one density for both directions", () => {
    const result = gaugeRepeat(
      { width: 1000, height: 500 },
      { method: "length", from: { x: 0, y: 0 }, to: { x: 300, y: 400 }, length: 250 },
    );
    expect(result.repeat).toEqual({ width: 500, height: 250 });
    expect(result.stretchPercent).toBeCloseTo(0, 10);
    expect(result.densityX).toBeCloseTo(2000, 9);
  });

  test("a rectangle gives each direction its own density, however it was drawn", () => {
    const asDrawn = gaugeRepeat(square, {
      method: "rectangle",
      from: { x: 300, y: 200 },
      to: { x: 44, y: 72 },
      width: 203,
      height: 103,
    });
    expect(asDrawn.repeat).toEqual({ width: 812, height: 824 });
  });

  test.each<[string, RepeatMethod]>([
    ["width", { method: "size", width: 0 }],
    ["height", { method: "size", width: 5, height: -3 }],
    ["across", { ...paving, across: 0.5 }],
    ["up", { ...paving, up: 1e9 }],
    ["across", { ...paving, across: 0 }],
    ["joint", { ...paving, joint: -1 }],
    ["workSize/width", { ...paving, workSize: { width: NaN, height: 1 } }],
    ["workSize", { method: "modules", across: 1, up: 1 }],
    ["across", { method: "modules", workSize: { width: 1, height: 1 } }],
    ["workSize/height", { method: "modules", up: 2, workSize: { width: 1 } }],
    ["to", { method: "length", from: { x: 5, y: 5 }, to: { x: 5, y: 5 }, length: 10 }],
    ["to", { method: "length", from: { x: 5, y: 5 }, to: { x: 5000, y: 5 }, length: 10 }],
    ["to", { method: "rectangle", from: { x: 5, y: 5 }, to: { x: 50, y: 5 }, width: 1, height: 1 }],
  ])("names the field at fault: %s", (field, method) => {
    expect(() => gaugeRepeat(square, method)).toThrow(GaugeError);
    try {
      gaugeRepeat(square, method);
    } catch (error) {
      expect((error as GaugeError).field).toBe(field);
    }
  });
});
