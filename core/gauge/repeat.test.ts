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

const line = (x1: number, y1: number, x2: number, y2: number, length: number) => ({
  from: { x: x1, y: y1 },
  to: { x: x2, y: y2 },
  length,
});

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

  test("between the two, both directions are off by the same part, and by less than either alone", () => {
    const { repeat } = gaugeRepeat(square, paving, "between");
    expect(repeat.width).toBe(repeat.height);
    const [across, down] = [repeat.width / 812 - 1, 1 - repeat.height / 824];
    expect(across).toBeCloseTo(down, 3);
    expect(across).toBeCloseTo(0.0073, 4);
  });

  test("a piece that looks like several is counted as several", () => {
    const boards: RepeatMethod = {
      method: "modules",
      up: 10,
      coverSize: { height: 200 },
      looksLike: { across: 1, down: 2 },
    };
    expect(gaugeRepeat(square, boards).repeat).toEqual({ width: 1000, height: 1000 });
  });

  test("a density, and the repeat of another material, are taken as they are", () => {
    expect(gaugeRepeat({ width: 2000, height: 500 }, { method: "density", across: 1000 }).repeat).toEqual({
      width: 2000,
      height: 500,
    });
    const same = gaugeRepeat(square, { method: "same-as", material: "other", width: 900, height: 450 });
    expect(same.repeat).toEqual({ width: 900, height: 450 });
    expect(same.disagreementPercent).toBeCloseTo(-50, 10);
  });

  test("the error is that of the ends of what was measured, and none for what was counted", () => {
    expect(gaugeRepeat(square, paving).errorPercent).toBe(0);
    const long = gaugeRepeat(square, { method: "length", ...line(0, 0, 1000, 0, 500) });
    const short = gaugeRepeat(square, { method: "length", ...line(0, 0, 10, 0, 5) });
    expect(long.errorPercent).toBeCloseTo(0.0707, 4);
    expect(short.errorPercent).toBeCloseTo(7.07, 2);
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
    ["across", { method: "density", across: 0 }],
    ["looksLike", { ...paving, looksLike: { across: 0, down: 1 } }],
    ["lines", { method: "lines", lines: [] }],
    ["lines/1/to", { method: "lines", lines: [line(0, 0, 9, 0, 5), line(3, 3, 3, 3.5, 5)] }],
    ["lines/0/length", { method: "lines", lines: [line(0, 0, 9, 0, -5)] }],
    [
      "lines",
      { method: "lines", lines: [line(0, 0, 100, 0, 1), line(0, 0, 100, 100, 1000), line(0, 0, 0, 100, 1)] },
    ],
  ])("names the field at fault: %s", (field, method) => {
    expect(() => gaugeRepeat(square, method)).toThrow(GaugeError);
    try {
      gaugeRepeat(square, method);
    } catch (error) {
      expect((error as GaugeError).field).toBe(field);
    }
  });
});

describe("sizes that no surface has", () => {
  test.each<[string, RepeatMethod, string]>([
    ["a density of next to nothing", { method: "density", across: 1e-12 }, "That makes a repeat of"],
    ["a density beyond all", { method: "density", across: 1e9 }, "A repeat is 0.1 mm to 1 km"],
    ["more modules than a kilometre holds", { ...paving, across: 90_000 }, "A repeat is 0.1 mm to 1 km"],
    ["a joint as wide as its module", { ...paving, joint: 100 }, "narrower than its module"],
  ])("%s is refused, and the size that came of it said", (_, method, words) => {
    expect(() => gaugeRepeat(square, method)).toThrow(GaugeError);
    expect(() => gaugeRepeat(square, method)).toThrow(words);
  });
});

describe("several lines", () => {
  /** Lines over an image of 1000 × 500 px whose true repeat is 800 × 500 mm, with ends off by up to `off` px. */
  const drawn = (off: number, ends: [number, number, number, number][]) =>
    ends.map(([x1, y1, x2, y2], i) => {
      const length = Math.hypot((x2 - x1) * 0.8, y2 - y1);
      return line(x1, y1, x2 + off * Math.sin(7 * i), y2 + off * Math.cos(5 * i), length);
    });
  const image = { width: 1000, height: 500 };
  const across: [number, number, number, number][] = [
    [10, 20, 700, 25],
    [50, 400, 950, 380],
    [200, 10, 220, 450],
    [600, 30, 610, 480],
    [100, 50, 800, 450],
  ];

  test("in different directions give both scales exactly where they agree", () => {
    const { repeat, residuals, errorPercent } = gaugeRepeat(image, {
      method: "lines",
      lines: drawn(0, across),
    });
    expect(repeat.width).toBeCloseTo(800, 6);
    expect(repeat.height).toBeCloseTo(500, 6);
    for (const residual of residuals!) expect(residual).toBeCloseTo(0, 6);
    expect(errorPercent).toBeGreaterThan(0);
  });

  test("average out the errors of their ends, and say how far each is off", () => {
    const { repeat, residuals } = gaugeRepeat(image, { method: "lines", lines: drawn(3, across) });
    expect(Math.abs(repeat.width / 800 - 1)).toBeLessThan(0.004);
    expect(Math.abs(repeat.height / 500 - 1)).toBeLessThan(0.008);
    const mean = residuals!.reduce((sum, r) => sum + r, 0) / residuals!.length;
    expect(Math.abs(mean)).toBeLessThan(0.05);
    expect(Math.max(...residuals!.map(Math.abs))).toBeGreaterThan(0.1);
  });

  test("that all run one way leave the pixels square", () => {
    const { repeat } = gaugeRepeat(image, {
      method: "lines",
      lines: [line(0, 0, 500, 0, 400), line(100, 300, 600, 302, 404)],
    });
    expect(repeat.width / repeat.height).toBeCloseTo(2, 10);
    expect(repeat.width).toBeCloseTo(804, 0);
  });

  test("that cross at less than 30° leave them square as well: a pixel would make them a third higher or lower", () => {
    const crossing = (degrees: number) => {
      const [c, s] = [36, 36 + degrees]
        .map((d) => (d * Math.PI) / 180)
        .map((a) => [Math.cos(a), Math.sin(a)]);
      const lines = [c, s].map(([x, y]) =>
        line(10, 10, 10 + 400 * x, 10 + 400 * y, Math.hypot(320 * x, 400 * y)),
      );
      return gaugeRepeat(image, { method: "lines", lines }).repeat;
    };
    expect(crossing(18).width / crossing(18).height).toBeCloseTo(2, 10);
    expect(crossing(40).width / crossing(40).height).toBeCloseTo(1.6, 6);
  });

  test("of which one is wrong are told by a large error, the wrong one with the largest", () => {
    const lines = drawn(0, across);
    lines[1].length *= 1.25;
    const { residuals, errorPercent } = gaugeRepeat(image, { method: "lines", lines });
    expect(errorPercent).toBeGreaterThan(3);
    expect(residuals!.map(Math.abs).indexOf(Math.max(...residuals!.map(Math.abs)))).toBe(1);
  });
});
