import { expect, test } from "@jest/globals";
import { finishSchema } from "#core/finish/finish";
import { meanOfSpot, ownColor } from "#core/picture/pickedColor";
import { createRaster } from "#core/raster/raster";
import { linearToHex, srgbToLinear } from "#core/raster/srgb";

/** Dark at the left, light at the right. */
const halves = createRaster(40, 40, 3, 8);
for (let i = 0; i < 1600; i++) halves.data.fill(i % 40 < 20 ? 40 : 200, i * 3, i * 3 + 3);
const [dark, light] = [srgbToLinear(40 / 255), srgbToLinear(200 / 255)];

test("a spot is the mean of its pixels in linear light, and goes on at the other side", () => {
  expect(meanOfSpot(halves, { x: 0.25, y: 0.5, radiusPx: 4 })[0]).toBeCloseTo(dark, 5);
  expect(meanOfSpot(halves, { x: 0.75, y: 0.5, radiusPx: 0 })[1]).toBeCloseTo(light, 5);
  const [edge] = meanOfSpot(halves, { x: 0, y: 0, radiusPx: 6 });
  expect(edge).toBeGreaterThan(dark * 1.5);
  expect(edge).toBeLessThan(light * 0.8);
  expect(meanOfSpot(halves, { x: 1.25, y: -3.5, radiusPx: 4 })[0]).toBeCloseTo(dark, 5);
});

test("a material's own colour is under its finish; a plain one has one, and what has none has none", () => {
  const spot = { x: 0.75, y: 0.5, radiusPx: 3 };
  expect(ownColor(finishSchema.parse({ brightnessStops: -1 }), halves, spot)![2]).toBeCloseTo(light / 2, 4);
  expect(ownColor(finishSchema.parse({ color: "#c8c8c8" }), undefined, spot)![0]).toBeCloseTo(light, 5);
  expect(ownColor(finishSchema.parse({}), undefined, spot)).toBeUndefined();
});

test("of the five pixels around one of a single row three are its own column", () => {
  const row = createRaster(4, 1, 4, 8);
  row.data.set([255, 255, 255, 255], 12);
  const at = (x: number, finish = finishSchema.parse({})) => ownColor(finish, row, { x, y: 0, radiusPx: 1 })!;
  expect(at(0.9)[0]).toBeCloseTo(3 / 5, 6);
  expect(at(0)[0]).toBeCloseTo(1 / 5, 6);
  expect(at(0.4)[0]).toBe(0);
  expect(linearToHex(at(0.9, finishSchema.parse({ tint: "#ff0000" })))).toBe("#cb0000");
  expect(linearToHex([-1, 0.5, 7])).toBe("#00bcff");
});
