import { describe, expect, test } from "@jest/globals";
import { createRaster, type Raster } from "#core/raster/raster";
import { resize } from "#core/raster/resize";
import { hexToLinear, linearTable, linearToSrgb, srgbToLinear } from "#core/raster/srgb";

const grey = (width: number, height: number, values: number[], bitDepth: 8 | 16 = 8): Raster => {
  const raster = createRaster(width, height, 1, bitDepth);
  raster.data.set(values);
  return raster;
};

describe("sRGB", () => {
  test("follows the piecewise curve of IEC 61966-2-1, not a power of 2.2", () => {
    expect(srgbToLinear(0.5)).toBeCloseTo(0.21404114, 7);
    expect(srgbToLinear(0.02)).toBeCloseTo(0.02 / 12.92, 12);
    for (let code = 0; code < 256; code++)
      expect(Math.round(linearToSrgb(linearTable(8)[code]) * 255)).toBe(code);
    expect(hexToLinear("#ff8000")[1]).toBeCloseTo(0.2158605, 6);
  });
});

describe("resize", () => {
  test("averages black and white in linear light for colour and in value for data", () => {
    const checks = createRaster(4, 4, 3, 8);
    for (let i = 0; i < 16; i++) checks.data.fill((i + (i >> 2)) % 2 ? 255 : 0, i * 3, i * 3 + 3);
    expect([...resize(checks, 1, 1, { values: "srgb", wrap: true }).data]).toEqual([188, 188, 188]);
    expect([...resize(checks, 1, 1, { values: "data", wrap: true }).data]).toEqual([128, 128, 128]);
  });

  test("keeps a flat image flat in 16 bits, at any size", () => {
    const flat = grey(7, 5, Array(35).fill(12345), 16);
    for (const [w, h] of [
      [3, 2],
      [14, 11],
      [1, 1],
    ])
      expect(new Set(resize(flat, w, h, { values: "data", wrap: false }).data)).toEqual(new Set([12345]));
  });

  test("wraps: shifting a repeating image and reducing it gives the shifted reduction", () => {
    const values = Array.from({ length: 64 }, (_, i) => (i * 37) % 251);
    const row = grey(64, 1, values);
    const shifted = grey(64, 1, [...values.slice(8), ...values.slice(0, 8)]);
    const small = [...resize(row, 16, 1, { values: "data", wrap: true }).data];
    expect([...resize(shifted, 16, 1, { values: "data", wrap: true }).data]).toEqual([
      ...small.slice(2),
      ...small.slice(0, 2),
    ]);
  });

  test("renormalises normals after averaging", () => {
    const normals = createRaster(2, 1, 3, 16);
    const encode = (v: number) => Math.round(((v + 1) / 2) * 65535);
    normals.data.set([0.6, 0, 0.8, -0.6, 0, 0.8].map(encode));
    const [x, y, z] = [...resize(normals, 1, 1, { values: "normal", wrap: true }).data].map(
      (v) => (v / 65535) * 2 - 1,
    );
    expect(Math.hypot(x, y, z)).toBeCloseTo(1, 4);
    expect(z).toBeCloseTo(1, 4);
  });
});
