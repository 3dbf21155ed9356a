import { describe, expect, test } from "@jest/globals";
import { sampleSet } from "#core/judge/testing";
import { SAMPLES } from "#core/pattern/samples";
import { correlation, meanOf, planeOf, type Plane } from "#core/raster/plane";
import { heightFromColor, roughnessFromColor } from "#core/relief/estimateFromColor";
import { heightFromNormal } from "#core/relief/heightFromNormal";
import { normalFromHeight } from "#core/relief/normalFromHeight";
import { occlusionFromHeight } from "#core/relief/occlusionFromHeight";
import { spreadHeight } from "#core/relief/spreadHeight";

/** A hill and a valley in millimetres, over a repeat of 400 × 200 mm. */
const repeat = { width: 400, height: 200 };
const waves: Plane = {
  width: 128,
  height: 64,
  data: Float32Array.from(
    { length: 128 * 64 },
    (_, i) =>
      5 * Math.sin((2 * Math.PI * (i % 128)) / 128) + 2 * Math.cos((4 * Math.PI * Math.floor(i / 128)) / 64),
  ),
};

describe("height and normal map lead into each other", () => {
  test("to the tenth of a millimetre, over the real size", () => {
    const { raster, amplitude, middle } = heightFromNormal(normalFromHeight(waves, repeat), "+Y", repeat);
    expect(amplitude).toBeCloseTo(14, 0);
    expect(middle).toBeCloseTo(0.5, 2);
    const back = planeOf(raster, 0);
    let worst = 0;
    for (let i = 0; i < waves.data.length; i++)
      worst = Math.max(worst, Math.abs((back.data[i] - middle) * amplitude - waves.data[i]));
    expect(worst).toBeLessThan(0.1);
  });

  test("a normal map read with the wrong green gives another relief", () => {
    const normal = normalFromHeight(waves, repeat);
    const wrong = heightFromNormal(normal, "-Y", repeat).raster;
    expect(correlation(planeOf(wrong, 0), waves)).toBeLessThan(0.9);
  });

  test.each(["brick", "tiles", "planks", "scraped"])("on the surface “%s”", (name) => {
    const set = sampleSet(name);
    const made = heightFromNormal(set.geometry_normal, "+Y", SAMPLES[name].repeat);
    expect(correlation(planeOf(made.raster, 0), planeOf(set.height, 0))).toBeGreaterThan(0.88);
    expect(made.amplitude / set.heightAmplitudeMm).toBeGreaterThan(0.5);
    expect(made.amplitude / set.heightAmplitudeMm).toBeLessThan(1.6);
  });

  test("steep relief is as high on sides that are no powers of two", () => {
    const amplitudeOf = (side: number) => {
      const data = Float32Array.from({ length: side * side }, (_, i) => 10 * Math.sin((Math.PI * i) / 6));
      const repeat = { width: side * 2, height: side * 2 };
      return heightFromNormal(normalFromHeight({ width: side, height: side, data }, repeat), "+Y", repeat)
        .amplitude;
    };
    // The nearest power is above the one and below the other.
    const [above, below] = [amplitudeOf(384), amplitudeOf(360)];
    expect(below / above).toBeGreaterThan(0.98);
    expect(below).toBeGreaterThan(18.6);
  });

  test("sides that are no powers of two keep their size", () => {
    const odd: Plane = {
      width: 90,
      height: 70,
      data: new Float32Array(90 * 70).map((_, i) => (i % 90 > 45 ? 1 : 0)),
    };
    const { raster } = heightFromNormal(normalFromHeight(odd, repeat), "+Y", repeat);
    expect([raster.width, raster.height, raster.bitDepth]).toEqual([90, 70, 16]);
  });
});

test("a flat relief lies in the middle", () => {
  const flat = spreadHeight({ width: 2, height: 1, data: Float32Array.of(3, 3) });
  expect(flat).toMatchObject({ amplitude: 0, middle: 0.5 });
  expect([...flat.raster.data]).toEqual([32768, 32768]);
});

describe("occlusion from a height", () => {
  test("is none on a plain, and as the horizon says at the foot of a wall", () => {
    // A trench 40 mm deep and 80 mm wide, along y, over 640 mm: in its middle a wall stands 40 mm away on either side.
    const trench: Plane = {
      width: 128,
      height: 32,
      data: Float32Array.from({ length: 128 * 32 }, (_, i) => (Math.abs((i % 128) - 63.5) < 8 ? -40 : 0)),
    };
    const { data } = occlusionFromHeight(trench, { width: 640, height: 160 }, 400);
    expect(data[16 * 128 + 2]).toBe(255);
    // The mean over all directions θ of 1 / (1 + cos² θ), since the wall is 40 mm / cos θ away: 1 / √2.
    expect(Math.abs(data[16 * 128 + 63] / 255 - Math.SQRT1_2)).toBeLessThan(0.05);
    expect(data[16 * 128 + 57]).toBeLessThan(data[16 * 128 + 63]);
  });

  test("agrees with the darkness of a brick wall's joints", () => {
    const set = sampleSet("brick");
    const relief = planeOf(set.height, 0);
    const mm = { ...relief, data: relief.data.map((v) => v * set.heightAmplitudeMm) };
    const made = occlusionFromHeight(mm, SAMPLES.brick.repeat, 20);
    expect(correlation(planeOf(made, 0), planeOf(set.ambient_occlusion, 0))).toBeGreaterThan(0.5);
  });
});

describe("guesses from the colours", () => {
  const { base_color: base, height } = sampleSet("brick");

  test("dark mortar lies deep, or high where dark is said to be high; its size stays", () => {
    const deep = heightFromColor(base, { darkIsDeep: true, fine: 0 });
    const high = heightFromColor(base, { darkIsDeep: false, fine: 0 });
    expect(correlation(planeOf(deep, 0), planeOf(high, 0))).toBeLessThan(-0.99);
    // The mortar of these bricks is lighter than they are.
    expect(correlation(planeOf(high, 0), planeOf(height, 0))).toBeGreaterThan(0.4);
    expect([deep.width, deep.bitDepth]).toEqual([base.width, 16]);
  });

  test("roughness keeps its level, and varies as far as it is told", () => {
    const flat = roughnessFromColor(base, { level: 0.6, variation: 0, darkIsRough: true });
    expect(new Set(flat.data)).toEqual(new Set([153]));
    const varied = planeOf(roughnessFromColor(base, { level: 0.6, variation: 0.3, darkIsRough: true }), 0);
    expect(meanOf(varied)).toBeCloseTo(0.6, 1);
    expect(Math.max(...varied.data) - Math.min(...varied.data)).toBeGreaterThan(0.2);
  });
});
