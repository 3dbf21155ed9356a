import { describe, expect, test } from "@jest/globals";
import { fitWhole, stretchOfPixels, toImage, toView, zoomAt } from "./placement";

const view = { width: 700, height: 640 };

describe("fitWhole", () => {
  test.each([
    ["square", { width: 1024, height: 1024 }],
    ["flat", { width: 4096, height: 256 }],
    ["tall", { width: 100, height: 9000 }],
    ["small", { width: 16, height: 16 }],
  ])("a %s image lies whole and centred", (_, drawn) => {
    const place = fitWhole(view, drawn);
    const [right, bottom] = [place.x + drawn.width * place.zoom, place.y + drawn.height * place.zoom];
    expect(place.x).toBeCloseTo(view.width - right, 6);
    expect(place.y).toBeCloseTo(view.height - bottom, 6);
    expect(Math.min(place.x, place.y)).toBeGreaterThanOrEqual(11.9);
  });

  test("a view without room does not turn the image inside out", () => {
    expect(fitWhole({ width: 0, height: 0 }, { width: 500, height: 500 }).zoom).toBeGreaterThan(0);
  });
});

describe("zoomAt", () => {
  test("what lies under the pointer stays there, in and out again", () => {
    const start = fitWhole(view, { width: 1024, height: 1024 });
    const pointer = { x: 123, y: 456 };
    const before = toImage(start, 1, { width: 1024, height: 1024 }, pointer);
    let place = start;
    for (const factor of [1.25, 3, 0.4, 1.7]) {
      place = zoomAt(place, factor, pointer);
      const under = toImage(place, 1, { width: 1024, height: 1024 }, pointer);
      expect(under.x).toBeCloseTo(before.x, 6);
      expect(under.y).toBeCloseTo(before.y, 6);
    }
    const back = zoomAt(zoomAt(start, 2, pointer), 0.5, pointer);
    expect(back.x).toBeCloseTo(start.x, 9);
  });

  test("ends at a pixel that fills a thumbnail and at a thumbnail of everything", () => {
    const start = { zoom: 1, x: 0, y: 0 };
    expect(zoomAt(start, 1e6, { x: 0, y: 0 }).zoom).toBe(64);
    expect(zoomAt(start, 1e-6, { x: 0, y: 0 }).zoom).toBe(0.02);
    // At the end of the range nothing slides away under the pointer.
    const end = zoomAt(start, 1e6, { x: 50, y: 50 });
    expect(zoomAt(end, 2, { x: 10, y: 10 })).toEqual(end);
  });
});

describe("points", () => {
  const size = { width: 1024, height: 1024 };

  test("go to the view and come back, also when the image is stretched", () => {
    const stretch = stretchOfPixels(size, { width: 812, height: 824 });
    expect(stretch).toBeCloseTo(824 / 812, 12);
    const place = { zoom: 0.6, x: 37, y: -12 };
    for (const point of [
      { x: 0, y: 0 },
      { x: 512.5, y: 100.25 },
      { x: 1024, y: 1024 },
    ]) {
      const back = toImage(place, stretch, size, toView(place, stretch, point));
      expect(back.x).toBeCloseTo(point.x, 9);
      expect(back.y).toBeCloseTo(point.y, 9);
    }
  });

  test("a stretched image has its real proportions on the screen", () => {
    const stretch = stretchOfPixels({ width: 512, height: 1024 }, { width: 900, height: 450 });
    const corner = toView({ zoom: 1, x: 0, y: 0 }, stretch, { x: 512, y: 1024 });
    expect(corner.x / corner.y).toBeCloseTo(2, 12);
  });

  test("outside the image they lie on its edge", () => {
    expect(toImage({ zoom: 1, x: 100, y: 100 }, 1, size, { x: 0, y: 5000 })).toEqual({ x: 0, y: 1024 });
  });

  test("without a known size pixels are square", () => {
    expect(stretchOfPixels({ width: 10, height: 20 }, null)).toBe(1);
  });
});
