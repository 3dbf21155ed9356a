import { describe, expect, test } from "@jest/globals";
import { parseLength } from "#core/length/parseLength";
import { grabbed, placingOf, startPlacing } from "./typedPlacing";

const NEW = { placing: null, neutral: null, name: "Page", profile: null };
const read = (texts: Parameters<typeof placingOf>[0]) => placingOf(texts, (text) => parseLength(text));

describe("a picture is placed", () => {
  test("not at all, until somebody says how large it is", () => {
    expect(read(startPlacing(NEW, "mm"))).toEqual({ placing: null, neutral: null });
  });

  test("by two points or four corners, whose lengths are typed as lengths are", () => {
    const start = startPlacing(NEW, "mm");
    expect(read({ ...start, by: "points", length: "1.2 m" }).placing).toEqual({
      by: "points",
      from: { x: 0.25, y: 0.5 },
      to: { x: 0.75, y: 0.5 },
      lengthMm: 1200,
    });
    const corners = read({ ...start, by: "corners", width: "60 cm", height: "300" }).placing;
    expect(corners).toMatchObject({ by: "corners", widthMm: 600, heightMm: 300 });
    expect(() => read({ ...start, by: "points", length: "" })).toThrow();
    expect(() => read({ ...start, by: "corners", width: "abc", height: "3" })).toThrow("abc");
  });

  test("and begins again as it was saved", () => {
    const placing = {
      by: "points" as const,
      from: { x: 0.1, y: 0.2 },
      to: { x: 0.9, y: 0.2 },
      lengthMm: 840,
    };
    const saved = { ...NEW, placing, neutral: { x: 0.5, y: 0.5, reflects: 18 } };
    expect(read(startPlacing(saved, "mm"))).toEqual({ placing, neutral: saved.neutral });
  });

  test("a grey without a reflectance is neutral alone, and a wrong one is refused", () => {
    const grey = { ...startPlacing(NEW, "mm"), grey: { x: 0.5, y: 0.5 } };
    expect(read(grey).neutral).toEqual({ x: 0.5, y: 0.5 });
    expect(read({ ...grey, reflects: "17,5" }).neutral).toEqual({ x: 0.5, y: 0.5, reflects: 17.5 });
    for (const reflects of ["abc", "0", "120"])
      expect(() => read({ ...grey, reflects })).toThrow(`“${reflects}” is no reflectance`);
  });

  test("a point is grabbed where the pointer is near it", () => {
    const points = [
      { x: 10, y: 10 },
      { x: 100, y: 10 },
    ];
    expect([grabbed(points, { x: 95, y: 12 }, 8), grabbed(points, { x: 50, y: 50 }, 8)]).toEqual([
      1,
      undefined,
    ]);
    expect(grabbed([], { x: 0, y: 0 }, 8)).toBeUndefined();
  });
});
