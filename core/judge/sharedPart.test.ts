import { describe, expect, test } from "@jest/globals";
import { tintBetween } from "#core/judge/likeness";
import { pictureFigures } from "#core/judge/pictureFigures";
import { SAME_SURFACE, sharedPart, type Reduced } from "#core/judge/sharedPart";
import { cropped, mapped, sampleSet } from "#core/judge/testing";
import { mendSeams } from "#core/mend/mendSeams";
import { renderPattern } from "#core/pattern/patternSet";
import { brickWall } from "#core/pattern/samples";
import { planeOf, resample } from "#core/raster/plane";
import { createRaster, type Raster } from "#core/raster/raster";

const NAMES = ["brick", "planks", "chips", "cast"];
const SMALL = 256;

/** As it is kept beside each picture: squeezed into a square. */
function reduced(image: Raster): Reduced {
  const small = createRaster(SMALL, SMALL, 3, 8);
  for (const c of [0, 1, 2])
    resample(planeOf(image, c), SMALL, SMALL).data.forEach((v, i) => {
      small.data[i * 3 + c] = Math.round(v * 255);
    });
  return { small, width: image.width, height: image.height };
}

const crop = (image: Raster) => cropped(image, 20, 9, 226, 212);
function wallOf(seed: number): Raster {
  const { surface, repeat } = brickWall(seed);
  return renderPattern(surface, { repeat, widthPx: 256, heightPx: 256 }).base_color;
}

describe.each(NAMES)("a part of %s", (name) => {
  const whole = sampleSet(name).base_color;

  test("is found in it, where it is", () => {
    const like = sharedPart(reduced(whole), reduced(crop(whole)))!;
    expect(like.alike).toBeGreaterThan(0.8);
    const { first, second } = like.parts!;
    expect(first.left).toBeCloseTo(20 / 256, 1);
    expect(first.top).toBeCloseTo(9 / 256, 1);
    expect(first.width).toBeCloseTo(226 / 256, 1);
    expect(first.height).toBeCloseTo(212 / 256, 1);
    expect(Math.min(second.width, second.height)).toBeGreaterThan(0.95);
  });

  test("is nearer to it than to any other surface", () => {
    const own = pictureFigures(reduced(crop(whole)).small)!;
    const far = (other: string) => {
      const figures = pictureFigures(reduced(sampleSet(other).base_color).small)!;
      return Math.hypot(...figures.map((figure, i) => figure - own[i]));
    };
    const nearest = NAMES.toSorted((a, b) => far(a) - far(b))[0];
    expect(nearest).toBe(name);
    expect(far(name)).toBeLessThan(26);
  });

  test("shares nothing with other surfaces", () => {
    const others = NAMES.filter((other) => other !== name).map((other) =>
      reduced(sampleSet(other).base_color),
    );
    const part = reduced(crop(whole));
    expect(
      others.map((other) => sharedPart(other, part)?.alike ?? 0).filter((one) => one >= SAME_SURFACE),
    ).toEqual([]);
  });
});

test("a picture that was cropped and mended is found in the one that it came from", () => {
  const whole = sampleSet("trowelled").base_color;
  const { maps } = mendSeams([{ raster: crop(whole), values: "srgb" }], { across: true, down: true });
  const like = sharedPart(reduced(whole), reduced(maps[0]))!;
  expect(like.alike).toBeGreaterThan(SAME_SURFACE);
  expect(like.parts).toBeDefined();
});

test("two walls of the same bricks, each laid with others, share nothing but their joints", () => {
  const like = sharedPart(reduced(wallOf(1)), reduced(crop(wallOf(2))));
  expect(like?.alike ?? 0).toBeLessThan(SAME_SURFACE);
  expect(sharedPart(reduced(wallOf(1)), reduced(crop(wallOf(1))))!.alike).toBeGreaterThan(0.8);
});

test("a picture and itself with a corner painted over share the whole", () => {
  const whole = sampleSet("chips").base_color;
  const painted = mapped(whole, (v, _c, i) => {
    const pixel = Math.floor(i / whole.channels);
    return pixel % 256 < 60 && pixel < 60 * 256 ? 0.5 : v;
  });
  const like = sharedPart(reduced(whole), reduced(painted))!;
  expect(like.parts).toBeUndefined();
  expect(like.tint).toEqual(tintBetween(reduced(whole).small, reduced(painted).small));
});

test("a picture of so few pixels that nothing is left of it at the other's scale is not compared", () => {
  const whole = reduced(sampleSet("chips").base_color);
  expect(
    sharedPart({ ...whole, width: 8192, height: 8192 }, { ...whole, width: 64, height: 64 }),
  ).toBeUndefined();
  expect(pictureFigures(createRaster(SMALL, SMALL, 3, 8))).toBeNull();
});
