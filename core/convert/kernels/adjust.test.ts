import { describe, expect, test } from "@jest/globals";
import { adjustColor } from "#core/convert/kernels/adjustColor";
import { byCode } from "#core/convert/kernels/byCode";
import { adjusterOf, adjustedHex, colorAdjustment } from "#core/finish/colorAdjustment";
import { adjustedRoughness, roughnessAdjustment } from "#core/finish/roughnessAdjustment";
import { warmthMatrix } from "#core/finish/warmth";
import { seededRandom } from "#core/pattern/random";
import { createRaster, type Raster } from "#core/raster/raster";
import { linearToSrgb, srgbToLinear } from "#core/raster/srgb";

function noise(channels: Raster["channels"], bitDepth: 8 | 16): Raster {
  const raster = createRaster(24, 16, channels, bitDepth);
  const random = seededRandom(channels + bitDepth);
  for (let i = 0; i < raster.data.length; i++)
    raster.data[i] = Math.floor(random() * (bitDepth === 16 ? 65536 : 256));
  return raster;
}
const copy = (raster: Raster): Raster => ({ ...raster, data: raster.data.slice() });

describe("colour", () => {
  test("that is tinted white, or adjusted by nothing, is not adjusted at all", () => {
    expect(
      colorAdjustment({
        tint: "#FFFFFF",
        brightnessStops: 0,
        gamma: 1,
        saturation: 1,
        contrast: 1,
        warmth: 0,
      }),
    ).toBeUndefined();
    expect(colorAdjustment({ tint: "#fffffe" })).toEqual({ tint: "#fffffe" });
    for (const bitDepth of [8, 16] as const) {
      const before = noise(3, bitDepth);
      expect(adjustColor(copy(before), { tint: "#ffffff" }).data).toEqual(before.data);
    }
  });

  test.each([
    [{ tint: "#ffcc99" }],
    [{ brightnessStops: 0.5, gamma: 1.3 }],
    [{ warmth: 25 }],
    [{ saturation: 0.4, contrast: 1.2 }],
  ])("of every pixel is what the formula says: %j", (adjustment) => {
    for (const bitDepth of [8, 16] as const)
      for (const channels of [3, 4] as const) {
        const before = noise(channels, bitDepth);
        const most = bitDepth === 16 ? 65535 : 255;
        const adjust = adjusterOf(adjustment);
        const after = adjustColor(copy(before), adjustment);
        for (let i = 0; i < before.data.length; i += channels) {
          const linear = [0, 1, 2].map((c) => srgbToLinear(before.data[i + c] / most));
          const wanted = adjust(linear as [number, number, number]);
          for (const c of [0, 1, 2])
            expect(Math.abs(after.data[i + c] - linearToSrgb(wanted[c]) * most)).toBeLessThanOrEqual(0.51);
          if (channels === 4) expect(after.data[i + 3]).toBe(before.data[i + 3]);
        }
      }
  });

  test("a stop doubles the light, gamma keeps both ends, contrast keeps mid-grey, saturation keeps how light it is", () => {
    expect(adjusterOf({ brightnessStops: 1 })([0.1, 0.2, 0.3])).toEqual([0.2, 0.4, 0.6]);
    expect(adjusterOf({ gamma: 2 })([0, 0.25, 1])).toEqual([0, 0.5, 1]);
    for (const value of adjusterOf({ contrast: 1.7 })([0.18, 0.18, 0.18])) expect(value).toBeCloseTo(0.18, 9);
    const luminance = ([r, g, b]: number[]) => 0.2126 * r + 0.7152 * g + 0.0722 * b;
    const color: [number, number, number] = [0.3, 0.4, 0.2];
    const grey = adjusterOf({ saturation: 0 })(color);
    expect(new Set(grey.map((value) => value.toFixed(9))).size).toBe(1);
    expect(luminance(grey)).toBeCloseTo(luminance(color), 9);
    expect(luminance(adjusterOf({ saturation: 1.4 })(color))).toBeCloseTo(luminance(color), 9);
  });

  test("a tint of white's is the colour itself, and of a plain colour it is the product", () => {
    expect(adjustedHex("#ffffff", { tint: "#7f3a10" })).toBe("#7f3a10");
    expect(adjustedHex("#AABBCC", undefined)).toBe("#aabbcc");
  });

  test("of one channel is refused", () => {
    expect(() => adjustColor(noise(1, 8), { warmth: 3 })).toThrow(RangeError);
  });
});

describe("warmth", () => {
  const white = (mired: number) => warmthMatrix(mired).map((row) => row[0] + row[1] + row[2]);

  test("of nothing is nothing", () => {
    const matrix = warmthMatrix(0);
    for (const i of [0, 1, 2])
      for (const j of [0, 1, 2]) expect(matrix[i][j]).toBeCloseTo(i === j ? 1 : 0, 9);
  });

  test("makes white redder or bluer, and never lighter", () => {
    for (const mired of [-90, -30, 30, 90]) {
      const [r, g, b] = white(mired);
      expect(Math.sign(r - b)).toBe(Math.sign(mired));
      expect(0.2126729 * r + 0.7151522 * g + 0.072175 * b).toBeCloseTo(1, 4);
    }
  });

  test("turns D65 into D50 by the distance of the two in mired", () => {
    // D50 has x = 0.3457, y = 0.3585 at 5003 K.
    const [r, g, b] = white(1e6 / 5003 - 1e6 / 6504);
    const xyz = [
      0.4124564 * r + 0.3575761 * g + 0.1804375 * b,
      0.2126729 * r + 0.7151522 * g + 0.072175 * b,
      0.0193339 * r + 0.119192 * g + 0.9503041 * b,
    ];
    const sum = xyz[0] + xyz[1] + xyz[2];
    expect(xyz[0] / sum).toBeCloseTo(0.3457, 3);
    expect(xyz[1] / sum).toBeCloseTo(0.3585, 3);
  });
});

describe("roughness", () => {
  test("keeps its detail where it is scaled", () => {
    const random = seededRandom(9);
    const before = Array.from({ length: 4000 }, () => 0.2 + 0.6 * random());
    const after = before.map((value) =>
      adjustedRoughness(value, roughnessAdjustment({ roughnessScale: 0.7 })),
    );
    const mean = (values: number[]) => values.reduce((sum, value) => sum + value, 0) / values.length;
    const [m, n] = [mean(before), mean(after)];
    const product = (a: number[], am: number, b: number[], bm: number) =>
      mean(a.map((value, i) => (value - am) * (b[i] - bm)));
    const correlation =
      product(before, m, after, n) / Math.sqrt(product(before, m, before, m) * product(after, n, after, n));
    expect(correlation).toBeGreaterThan(0.99);
    expect(n / m).toBeCloseTo(0.7, 6);
  });

  test("is shifted after it is scaled, and kept within its limits", () => {
    const adjustment = roughnessAdjustment({
      roughnessScale: 2,
      roughnessShift: -0.1,
      roughnessRange: [0.2, 0.9],
    });
    expect([0, 0.2, 0.3, 0.8].map((value) => adjustedRoughness(value, adjustment))).toEqual([
      0.2, 0.30000000000000004, 0.5, 0.9,
    ]);
    expect(
      roughnessAdjustment({ roughnessScale: 1, roughnessShift: 0, roughnessRange: [0, 1] }),
    ).toBeUndefined();
  });
});

test("data is changed code by code, in all channels, and stays within its codes", () => {
  for (const bitDepth of [8, 16] as const) {
    const before = noise(1, bitDepth);
    const most = bitDepth === 16 ? 65535 : 255;
    expect(byCode(copy(before), (value) => value).data).toEqual(before.data);
    const after = byCode(copy(before), (value) => value * 3 - 1);
    for (let i = 0; i < before.data.length; i++)
      expect(after.data[i]).toBe(
        Math.round(Math.min(1, Math.max(0, (before.data[i] / most) * 3 - 1)) * most),
      );
  }
});
