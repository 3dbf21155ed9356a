import type { LineFacts } from "#core/supply/catalogue";
import { startGauge } from "./startGauge";
import { describe, expect, test } from "@jest/globals";
import { gaugeRepeat, type RepeatMethod } from "#core/gauge/repeat";
import { EMPTY_GAUGE, linesOf, readGauge, writeGauge, type GaugeFields } from "./readGauge";

const typed = (fields: Partial<GaugeFields>): GaugeFields => ({ ...EMPTY_GAUGE, ...fields });

describe("readGauge", () => {
  test("reads lengths as people write them, a bare number in the person's unit", () => {
    const fields = typed({ across: "4", up: "8", moduleWidth: "20", moduleHeight: "100 mm", joint: "0" });
    expect(readGauge(fields, "cm")).toEqual({
      request: {
        method: "modules",
        across: 4,
        up: 8,
        workSize: { width: 200, height: 100 },
        joint: 0,
        jointVertical: undefined,
        keep: "both",
        assumed: false,
      },
    });
  });

  test("a direction whose size is not typed follows from the pixels, though it was counted", () => {
    const boards = typed({ across: "8", up: "2", moduleWidth: "120" });
    const reading = readGauge(boards, "mm");
    if (!("request" in reading)) throw new Error(JSON.stringify(reading));
    expect(gaugeRepeat({ width: 512, height: 512 }, reading.request).repeat).toEqual({
      width: 960,
      height: 960,
    });
    expect(readGauge(typed({ moduleWidth: "120" }), "mm")).toEqual({ waiting: true });
  });

  test("waits while something is missing, and names the field that cannot be read", () => {
    expect(readGauge(typed({ across: "4" }), "mm")).toEqual({ waiting: true });
    const wrong = readGauge(typed({ method: "size", width: "12 q" }), "mm");
    expect(wrong).toMatchObject({ field: "width", message: expect.stringContaining("“12 q”") });
    const line = { fromX: "a", fromY: "0", toX: "1", toY: "1", length: "5" };
    const lines = (...rows: object[]) => typed({ method: "lines", lines: JSON.stringify(rows) });
    expect(readGauge(lines(line), "mm")).toMatchObject({ field: "lines", message: "“a” is not a number." });
    expect(readGauge(lines({ ...line, fromX: "" }), "mm")).toEqual({ waiting: true });
    expect(readGauge(typed({ method: "lines", lines: "{nonsense" }), "mm")).toEqual({ waiting: true });
    expect(readGauge(typed({ method: "same-as", material: "m" }), "mm", null)).toMatchObject({
      field: "material",
    });
    expect(readGauge(typed({ method: "weight" }), "mm")).toMatchObject({ field: "method" });
  });

  test.each<RepeatMethod>([
    { method: "size", width: 600 },
    { method: "size", width: 600, height: 450.5 },
    {
      method: "modules",
      across: 4,
      up: 8,
      workSize: { width: 200, height: 100 },
      joint: 3,
      jointVertical: 5,
    },
    { method: "modules", across: 8, workSize: { width: 118 }, joint: 2 },
    { method: "modules", up: 10, coverSize: { height: 105 } },
    { method: "modules", across: 3, up: 10, coverSize: { width: 250, height: 105 } },
    { method: "modules", up: 6, coverSize: { height: 200 }, looksLike: { across: 1, down: 2 } },
    { method: "density", across: 1200 },
    { method: "density", across: 1200, down: 1100 },
    { method: "same-as", material: "m", width: 900, height: 450 },
    { method: "lines", lines: [{ from: { x: 10, y: 20.5 }, to: { x: 300, y: 20.5 }, length: 203 }] },
    { method: "rectangle", from: { x: 0, y: 0 }, to: { x: 128, y: 64 }, width: 203, height: 103 },
  ])("what was kept is typed again so that it gives the same size, in any unit: %j", (method) => {
    const image = { width: 1024, height: 1024 };
    const reading = readGauge(writeGauge({ ...method, keep: "width" }), "in", { width: 900, height: 450 });
    if (!("request" in reading)) throw new Error(JSON.stringify(reading));
    expect(reading.request.keep).toBe("width");
    expect(gaugeRepeat(image, reading.request)).toEqual(gaugeRepeat(image, method));
  });

  test("a line that was kept by itself is the first of several, and one not finished yet waits", () => {
    const kept = writeGauge({ method: "length", from: { x: 1, y: 2 }, to: { x: 31, y: 42 }, length: 25 });
    const more = [...linesOf(kept), { fromX: "3", fromY: "", toX: "", toY: "", length: "" }];
    expect(readGauge({ ...kept, lines: JSON.stringify(more) }, "mm")).toMatchObject({
      request: { method: "lines", lines: [{ from: { x: 1, y: 2 }, to: { x: 31, y: 42 }, length: 25 }] },
    });
  });

  test("what a model told stands there as a size to confirm", () => {
    const fields = writeGauge({ method: "model", from: "chair.glb" }, { width: 500, height: 250 });
    expect(fields).toMatchObject({ method: "size", width: "500 mm", height: "250 mm" });
  });

  test("nothing kept is an empty form", () => {
    expect(writeGauge(null)).toEqual(EMPTY_GAUGE);
  });
});

describe("the fields to begin with", () => {
  const line = { workSize: { width: 210, height: 50 }, jointMm: 12, coverSize: null } as LineFacts;
  const material = { sizeState: "unknown", source: { sheet: { line } } };

  test("have the module of the product sheet, in the unit at hand, while the size is unknown", () => {
    expect(startGauge(EMPTY_GAUGE, material, "cm")).toEqual({
      ...EMPTY_GAUGE,
      moduleWidth: "21",
      moduleHeight: "5",
      joint: "1.2",
    });
    const lapped = { ...line, coverSize: { width: 250, height: 210 } };
    expect(startGauge(EMPTY_GAUGE, { ...material, source: { sheet: { line: lapped } } }, "mm")).toMatchObject(
      {
        method: "cover",
        moduleWidth: "250",
        joint: "",
      },
    );
  });

  test("stay as they were where the size is known, or no sheet came", () => {
    expect(startGauge(EMPTY_GAUGE, { ...material, sizeState: "known" }, "mm")).toBe(EMPTY_GAUGE);
    expect(startGauge(EMPTY_GAUGE, { ...material, source: { sheet: null } }, "mm")).toBe(EMPTY_GAUGE);
  });
});
