import { describe, expect, test } from "@jest/globals";
import { attachAlpha } from "#core/convert/kernels/attachAlpha";
import { toEightBits, toSixteenBits } from "#core/convert/kernels/bitDepth";
import { dropAlpha, extractChannel, greyToRgb, pack, toGrey } from "#core/convert/kernels/channels";
import { flipGreen } from "#core/convert/kernels/flipGreen";
import { invert } from "#core/convert/kernels/invert";
import { multiplyOcclusion } from "#core/convert/kernels/multiplyOcclusion";
import { roughenByNormal } from "#core/convert/kernels/roughenByNormal";
import { scaleNormal } from "#core/convert/kernels/scaleNormal";
import { createRaster, type Raster } from "#core/raster/raster";

const raster = (
  channels: Raster["channels"],
  bitDepth: 8 | 16,
  values: number[],
  width = values.length / channels,
): Raster => {
  const made = createRaster(width, values.length / channels / width, channels, bitDepth);
  made.data.set(values);
  return made;
};

describe("exact kernels", () => {
  test.each([8, 16] as const)("inverting and flipping twice gives every %i-bit code back", (bitDepth) => {
    const codes = Array.from({ length: bitDepth === 16 ? 65536 : 256 }, (_, i) => i);
    const all = raster(1, bitDepth, codes);
    expect(invert(all).data[0]).toBe(codes.length - 1);
    expect(invert(invert(all)).data).toEqual(all.data);
    const normals = raster(
      3,
      bitDepth,
      codes.flatMap((v) => [7, v, 200]),
    );
    const flipped = flipGreen(normals);
    expect([...flipped.data.slice(0, 3)]).toEqual([7, codes.length - 1, 200]);
    expect(flipGreen(flipped).data).toEqual(normals.data);
  });

  test.each<[string, (image: Raster, out?: Raster) => Raster]>([
    ["invert", invert],
    ["flipGreen", flipGreen],
    ["scaleNormal", (image, out) => scaleNormal(image, 1.7, out)],
    [
      "multiplyOcclusion",
      (image, out) => multiplyOcclusion(image, raster(1, 16, [9000, 40000]), 0.8, 1, out),
    ],
  ])("%s gives the same over the image itself as beside it", (_, kernel) => {
    const image = () => raster(3, 8, [200, 100, 50, 90, 160, 240]);
    const kept = image();
    const beside = kernel(kept);
    expect(kept).toEqual(image());
    const over = image();
    expect(kernel(over, over)).toBe(over);
    expect(over).toEqual(beside);
  });

  test.each([8, 16] as const)(
    "a grey keeps every %i-bit code, and a coloured one is its luminance",
    (bitDepth) => {
      const codes = Array.from({ length: bitDepth === 16 ? 65536 : 256 }, (_, i) => i);
      const grey = raster(
        3,
        bitDepth,
        codes.flatMap((v) => [v, v, v]),
      );
      expect([...toGrey(grey).data]).toEqual(codes);
      expect([...toGrey(raster(4, 8, [255, 0, 0, 9, 0, 255, 0, 9, 0, 0, 255, 9])).data]).toEqual([
        54, 182, 18,
      ]);
    },
  );

  test("8 to 16 bits and back is exact; 16 to 8 rounds to nearest", () => {
    const all = raster(
      1,
      8,
      Array.from({ length: 256 }, (_, i) => i),
    );
    expect(toEightBits(toSixteenBits(all), false).data).toEqual(all.data);
    expect([...toEightBits(raster(1, 16, [0, 128, 129, 65535, 65407, 65406]), false).data]).toEqual([
      0, 0, 1, 255, 255, 254,
    ]);
  });

  test("dithering keeps the mean of a value between two codes, and is the same each time", () => {
    const ramp = raster(1, 16, Array(64 * 64).fill(100 * 257 + 64), 64);
    const dithered = toEightBits(ramp, true);
    expect(new Set(dithered.data)).toEqual(new Set([100, 101]));
    expect([...dithered.data].reduce((a, b) => a + b, 0) / 4096).toBeCloseTo(100 + 64 / 257, 1);
    expect(toEightBits(ramp, true).data).toEqual(dithered.data);
  });
});

describe("multiplyOcclusion", () => {
  test("works in linear light", () => {
    const base = raster(3, 8, [255, 128, 0]);
    // Half the light of white is sRGB code 188; half of code 128 (0.2158605) is 0.1079303, code 92.
    expect([...multiplyOcclusion(base, raster(1, 16, [32768]), 1, 1).data]).toEqual([188, 92, 0]);
  });

  test("full occlusion value or strength 0 changes nothing; strength and gamma soften", () => {
    const base = raster(3, 8, [200, 100, 50]);
    expect(multiplyOcclusion(base, raster(1, 8, [255]), 1, 1).data).toEqual(base.data);
    expect(multiplyOcclusion(base, raster(1, 8, [0]), 0, 1).data).toEqual(base.data);
    const [full] = multiplyOcclusion(base, raster(1, 8, [64]), 1, 1).data;
    expect(multiplyOcclusion(base, raster(1, 8, [64]), 0.5, 1).data[0]).toBeGreaterThan(full);
    expect(multiplyOcclusion(base, raster(1, 8, [64]), 1, 0.5).data[0]).toBeGreaterThan(full);
  });

  test("gives the same for every pair of 8-bit values as for the same occlusion in 16 bits", () => {
    const pairs = Array.from({ length: 65_536 }, (_, i) => [i >> 8, i & 255]);
    const base = raster(
      1,
      8,
      pairs.map(([value]) => value),
      256,
    );
    const coarse = raster(
      1,
      8,
      pairs.map(([, ao]) => ao),
      256,
    );
    const fine = raster(
      1,
      16,
      pairs.map(([, ao]) => ao * 257),
      256,
    );
    for (const [strength, gamma] of [
      [1, 1],
      [0.8, 0.7],
    ])
      expect(multiplyOcclusion(base, coarse, strength, gamma).data).toEqual(
        multiplyOcclusion(base, fine, strength, gamma).data,
      );
  });

  test("refuses images of different size", () => {
    expect(() => multiplyOcclusion(raster(3, 8, [1, 2, 3]), raster(1, 8, [1, 2]), 1, 1)).toThrow(
      "1 × 1 and 2 × 1",
    );
  });
});

describe("scaleNormal", () => {
  test("scales slopes and keeps unit length", () => {
    const encode = (v: number) => Math.round(((v + 1) / 2) * 65535);
    const [x, , z] = [...scaleNormal(raster(3, 16, [0.6, 0, 0.8].map(encode)), 2).data].map(
      (v) => (v / 65535) * 2 - 1,
    );
    expect(x / z).toBeCloseTo(1.5, 3);
    expect(Math.hypot(x, z)).toBeCloseTo(1, 4);
  });
});

describe("roughenByNormal", () => {
  const encoded = (v: number) => Math.round(((v + 1) / 2) * 65535);
  const up = 1 / Math.sqrt(1.25);
  /** Slopes of one half to the left and to the right, in stripes of one texel: what is seen from afar is flat. */
  const stripes = (green = 0) =>
    raster(
      3,
      16,
      Array.from({ length: 64 }, (_, i) => [i % 2 ? 0.5 * up : -0.5 * up, green, up].map(encoded)).flat(),
      8,
    );
  const by = { width: 4, height: 4, weight: 1, values: "roughness" as const, wrap: true };
  const rough = (value: number) => raster(1, 16, Array<number>(16).fill(Math.round(value * 65535)), 4);

  test("widens the lobe by the variance of the slopes that are lost: α'² = α² + σ²", () => {
    const [value] = roughenByNormal(rough(0.3), stripes(), by).data;
    expect(value / 65535).toBeCloseTo((0.3 ** 4 + 0.25) ** 0.25, 3);
    const [half] = roughenByNormal(rough(0.3), stripes(), { ...by, weight: 0.25 }).data;
    expect(half / 65535).toBeCloseTo((0.3 ** 4 + 0.0625) ** 0.25, 3);
  });

  test("does the same to gloss, as its opposite", () => {
    const gloss = roughenByNormal(invert(rough(0.3)), stripes(), { ...by, values: "gloss" });
    expect(Math.abs(invert(gloss).data[5] - roughenByNormal(rough(0.3), stripes(), by).data[5])).toBeLessThan(
      2,
    );
  });

  test("leaves a surface as it is whose normals do not vary, or that leans as a whole", () => {
    for (const lean of [0, 0.5]) {
      const flat = raster(
        3,
        16,
        Array<number[]>(64)
          .fill([lean, 0, Math.sqrt(1 - lean ** 2)].map(encoded))
          .flat(),
        8,
      );
      expect(roughenByNormal(rough(0.1), flat, by).data).toEqual(rough(0.1).data);
    }
    // Nor does rounding to 8 bits count as relief.
    const noisy = raster(
      3,
      8,
      Array.from({ length: 64 }, (_, i) => [127 + (i % 2), 127 + ((i >> 3) % 2), 255]).flat(),
      8,
    );
    const [value] = roughenByNormal(rough(0.1), noisy, by).data;
    expect(value / 65535).toBeLessThan(0.11);
  });

  test("reaches full roughness and no more, over the image itself and at another size than the normal's", () => {
    const image = raster(1, 8, Array<number>(4).fill(240), 2);
    expect(roughenByNormal(image, stripes(), { ...by, weight: 9 }, image).data).toEqual(
      Uint8Array.from([255, 255, 255, 255]),
    );
  });
});

describe("channels", () => {
  test("packs images and constants", () => {
    const packed = pack([raster(1, 8, [10, 20]), 1, raster(1, 8, [30, 40])]);
    expect([...packed.data]).toEqual([10, 255, 30, 20, 255, 40]);
    expect([...extractChannel(packed, 2).data]).toEqual([30, 40]);
    expect(() => pack([0, 0, 1])).toThrow("at least one");
  });

  test("drops the fourth channel and spreads grey", () => {
    expect([...dropAlpha(raster(4, 8, [1, 2, 3, 4, 5, 6, 7, 8])).data]).toEqual([1, 2, 3, 5, 6, 7]);
    expect([...greyToRgb(dropAlpha(raster(2, 8, [9, 1]))).data]).toEqual([9, 9, 9]);
  });

  test("bleeds colour under transparent texels from the nearest opaque one", () => {
    const color = raster(3, 8, [0, 0, 0, 200, 100, 50, 0, 0, 0, 0, 0, 0]);
    const out = attachAlpha(color, raster(1, 8, [0, 255, 0, 0]));
    expect([...out.data]).toEqual([200, 100, 50, 0, 200, 100, 50, 255, 200, 100, 50, 0, 200, 100, 50, 0]);
  });
});
