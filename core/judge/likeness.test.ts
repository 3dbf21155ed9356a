import { describe, expect, test } from "@jest/globals";
import { fingerprintOf, type Fingerprint } from "#core/judge/fingerprint";
import { likenessOf, SAME_PICTURE } from "#core/judge/likeness";
import { mapped, mirrored, noise, quarterTurned, reducedTo, rolled, sampleSet } from "#core/judge/testing";
import { lumaOf } from "#core/raster/plane";
import { createRaster, type Raster } from "#core/raster/raster";

const NAMES = ["brick", "planks", "tiles", "chips", "trowelled", "scraped", "cast"];

const shared = (a: Fingerprint, b: Fingerprint) => a.filter((value, band) => value === b[band]).length;
const print = (image: Raster) => fingerprintOf(lumaOf(image))!;

const CHANGES: Record<string, (image: Raster) => Raster> = {
  "encoded again": (image) => mapped(image, (v, _c, i) => v + (((i * 2654435761) % 7) - 3) / 255),
  "reduced to half": (image) => reducedTo(image, 128),
  "tinted warm": (image) => mapped(image, (v, c) => v * [1.08, 1, 0.9][c]),
  "lightened by gamma": (image) => mapped(image, (v) => v ** 0.85),
  "turned by a quarter": quarterTurned,
  "turned by a half": (image) => quarterTurned(quarterTurned(image)),
  "shifted as a tile": (image) => rolled(image, 90, 37),
  mirrored,
  "mirrored and turned": (image) => quarterTurned(mirrored(image)),
};

describe.each(Object.keys(CHANGES))("a picture that was %s", (change) => {
  test.each(NAMES)("is found again by its fingerprint: %s", (name) => {
    const image = sampleSet(name).base_color;
    expect(shared(print(image), print(CHANGES[change](image)))).toBeGreaterThanOrEqual(1);
  });

  test("is recognised on a closer look, with what was done to it", () => {
    const image = sampleSet("chips").base_color;
    const like = likenessOf(image, CHANGES[change](image));
    expect(like.alike).toBeGreaterThan(SAME_PICTURE);
    expect(like.mirrored).toBe(change.includes("mirrored"));
    if (!like.mirrored)
      expect(like.turns).toBe(
        change.includes("quarter") ? 3 : change.includes("half") && change.includes("turned") ? 2 : 0,
      );
    if (change === "shifted as a tile") {
      expect(like.shiftX).toBeCloseTo(90 / 256, 1);
      expect(like.shiftY).toBeCloseTo(37 / 256, 1);
    }
    if (change === "tinted warm") {
      expect(like.tint[0]).toBeGreaterThan(0.02);
      expect(like.tint[2]).toBeLessThan(-0.02);
    }
  });
});

test("different pictures share no fingerprint and are not alike", () => {
  const images = NAMES.map((name) => sampleSet(name).base_color);
  let pairs = 0;
  for (let a = 0; a < images.length; a++)
    for (let b = a + 1; b < images.length; b++) {
      if (shared(print(images[a]), print(images[b])) > 1) pairs++;
      expect(likenessOf(images[a], images[b]).alike).toBeLessThan(SAME_PICTURE);
    }
  expect(pairs).toBeLessThanOrEqual(1);
});

test("walls of the same bands have to have more than the bands in common", () => {
  const banded = (name: string) => {
    const wall = sampleSet(name).base_color;
    return mapped(wall, (v, _c, i) => {
      const row = Math.floor(i / wall.channels / wall.width);
      return 0.5 * v + (row % 32 < 16 ? 0.1 : 0.4);
    });
  };
  expect(likenessOf(banded("trowelled"), banded("chips")).alike).toBeLessThan(SAME_PICTURE);
  const again = CHANGES["encoded again"](banded("chips"));
  expect(likenessOf(banded("chips"), again).alike).toBeGreaterThan(SAME_PICTURE);
});

test("an image without a picture in it has no fingerprint", () => {
  expect(fingerprintOf(lumaOf(createRaster(64, 64, 3, 8)))).toBeNull();
  expect(fingerprintOf(lumaOf(noise(64, 1)))).not.toBeNull();
});
