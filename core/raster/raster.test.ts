import { describe, expect, test } from "@jest/globals";
import { createRaster, type Raster } from "#core/raster/raster";
import { seededRandom } from "#core/pattern/random";
import { areaFilter, type FilterSource } from "#core/raster/areaFilter";
import { resize } from "#core/raster/resize";
import { openRows } from "#core/raster/simd/rows";
import { hexToLinear, linearTable, linearToSrgb, srgbEncoder, srgbToLinear } from "#core/raster/srgb";

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

describe("codes of linear light", () => {
  test.each([8, 16] as const)("of %i bits are those that the curve rounds to", (bitDepth) => {
    const most = bitDepth === 16 ? 65535 : 255;
    const encode = srgbEncoder(bitDepth);
    const random = seededRandom(4411);
    const wrong: number[] = [];
    for (let i = 0; i < 200_000; i++) {
      // Half of them dark, where codes lie close together.
      const v = i % 2 === 0 ? random() : random() ** 4;
      if (encode(v) !== Math.round(linearToSrgb(v) * most)) wrong.push(v);
    }
    expect(wrong).toEqual([]);
    expect([-1, 0, 1, 2, NaN].map(encode)).toEqual([0, 0, most, most, 0]);
  });
});

describe("filtering to another size", () => {
  /** The definition, tap by tap: a tent as wide as the reduction, its weights made to sum to one. */
  function slowly(source: FilterSource, width: number, height: number): Float64Array {
    const { channels, wrap } = source;
    const rows = Array.from({ length: source.height }, (_, y) => {
      const row = new Float32Array(source.width * channels);
      source.readRow(y, row);
      return row;
    });
    const place = (at: number, size: number) =>
      wrap ? ((at % size) + size) % size : Math.min(size - 1, Math.max(0, at));
    const taps = (from: number, to: number, i: number) => {
      const [centre, radius] = [((i + 0.5) * from) / to - 0.5, Math.max(1, from / to)];
      const found = [];
      for (let at = Math.ceil(centre - radius); at <= centre + radius; at++)
        found.push({ at: place(at, from), weight: Math.max(0, 1 - Math.abs(at - centre) / radius) });
      const sum = found.reduce((all, { weight }) => all + weight, 0);
      return found.map(({ at, weight }) => ({ at, weight: weight / sum }));
    };
    const out = new Float64Array(width * height * channels);
    for (let y = 0, o = 0; y < height; y++)
      for (let x = 0; x < width; x++)
        for (let c = 0; c < channels; c++, o++)
          for (const down of taps(source.height, height, y))
            for (const across of taps(source.width, width, x))
              out[o] += down.weight * across.weight * rows[down.at][across.at * channels + c];
    return out;
  }

  test.each([
    [40, 31, 39, 30],
    [40, 31, 20, 31],
    [37, 41, 5, 3],
    [12, 9, 31, 40],
    [7, 5, 1, 1],
    [1, 1, 3, 2],
  ])("%i × %i to %i × %i is what the definition says", (w, h, width, height) => {
    const random = seededRandom(w * h);
    for (const channels of [1, 2, 3, 4])
      for (const wrap of [true, false]) {
        const values = Float32Array.from({ length: w * h * channels }, () => random());
        const readRow = (y: number, into: Float32Array) =>
          into.set(values.subarray(y * w * channels, (y + 1) * w * channels));
        const source = { width: w, height: h, channels, wrap, readRow };
        const out = new Float32Array(width * height * channels);
        areaFilter(openRows(), source, width, height, (y, row) => out.set(row, y * width * channels));
        const wanted = slowly(source, width, height);
        const off = Math.max(...wanted.map((v, i) => Math.abs(v - out[i])));
        expect(off).toBeLessThan(1e-5);
      }
  });

  test.each([
    [23, 17, 11, 9],
    [23, 17, 22, 16],
    [9, 8, 31, 20],
  ])("codes of %i × %i to %i × %i are within one of what the definition says", (w, h, width, height) => {
    const random = seededRandom(w * width);
    for (const bitDepth of [8, 16] as const)
      for (const channels of [1, 2, 3, 4] as const)
        for (const values of ["srgb", "data", "normal"] as const) {
          const most = bitDepth === 16 ? 65535 : 255;
          const image = createRaster(w, h, channels, bitDepth);
          // Half of them dark, where codes of colours lie close together.
          image.data.forEach(
            (_, i) => (image.data[i] = Math.round(random() ** (i % 2 === 0 ? 1 : 4) * most)),
          );
          const isColor = (c: number) => values === "srgb" && (channels < 3 ? c === 0 : c < 3);
          const readRow = (y: number, into: Float32Array) =>
            into.forEach((_, i) => {
              const v = image.data[y * w * channels + i] / most;
              into[i] = isColor(i % channels) ? srgbToLinear(v) : values === "normal" ? v * 2 - 1 : v;
            });
          const wanted = slowly({ width: w, height: h, channels, wrap: true, readRow }, width, height);
          const { data } = resize(image, width, height, { values, wrap: true });
          let off = 0;
          for (let i = 0; i < data.length; i++) {
            const c = i % channels;
            const at = i - c;
            const length =
              values === "normal" && channels >= 3 && c < 3
                ? Math.hypot(wanted[at], wanted[at + 1], wanted[at + 2])
                : 1;
            const v = wanted[i] / length;
            const code = isColor(c) ? linearToSrgb(v) : values === "normal" ? (v + 1) / 2 : v;
            off = Math.max(off, Math.abs(data[i] - Math.round(code * most)));
          }
          expect({ bitDepth, channels, values, off: off <= 1 }).toEqual({
            bitDepth,
            channels,
            values,
            off: true,
          });
        }
  });
});
