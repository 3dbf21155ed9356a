import { describe, expect, test } from "@jest/globals";
import { flipGreen } from "#core/convert/kernels/flipGreen";
import { readSeams, SEAM_LOOK, SEAM_WRONG, SEAMLESS, worstSeam } from "#core/judge/seams";
import { cropped, mapped, noise, rolled, sampleSet } from "#core/judge/testing";
import { renderPattern } from "#core/pattern/patternSet";
import { tiles } from "#core/pattern/tiles";
import { lumaOf, reducedPlane, resample } from "#core/raster/plane";
import { createRaster, type Raster } from "#core/raster/raster";

const NAMES = ["brick", "planks", "tiles", "trowelled", "scraped", "cast"];
const broken = (raster: Raster, values: Parameters<typeof readSeams>[1] = "color") =>
  worstSeam(readSeams(raster, values)).broken;

describe("seams", () => {
  test.each(NAMES)("%s from the maker has none in any of its maps, wherever it begins", (name) => {
    const set = sampleSet(name);
    for (const [x, y] of [
      [0, 0],
      [1, 2],
      [100, 77],
    ])
      for (const [map, values] of [
        [set.base_color, "color"],
        [set.height, "data"],
        [set.specular_roughness, "data"],
        [set.geometry_normal, "normal"],
      ] as const)
        expect(broken(rolled(map, x, y), values)).toBeLessThan(SEAM_LOOK);
  });

  test.each(["brick", "planks", "tiles", "trowelled", "scraped"])(
    "%s cut at an odd place has some",
    (name) => {
      const { base_color: base, geometry_normal: normal } = sampleSet(name);
      expect(broken(cropped(base, 11, 9, 227, 219))).toBeGreaterThan(SEAM_LOOK);
      const cut = cropped(normal, 11, 9, 227, 219);
      expect(broken(cut, "normal")).toBeCloseTo(broken(flipGreen(cut), "normal"), 3);
    },
  );

  test("a picture that is cut in one direction continues in the other", () => {
    const { across, down } = readSeams(cropped(sampleSet("tiles").base_color, 0, 9, 256, 220), "color");
    expect(across.broken).toBeLessThan(SEAM_LOOK);
    expect(down.broken).toBeGreaterThan(SEAM_LOOK);
  });

  test("brickwork cut inside a course, and between courses where the bond does not go on, has one", () => {
    const { base_color: base } = sampleSet("brick");
    // Twelve courses in half bond over 256 px: eleven of them end in a joint as well, and turn the bond round.
    const course = 256 / 12;
    for (const height of [11 * course, 11.4 * course])
      expect(readSeams(cropped(base, 0, 0, 256, Math.round(height)), "color").down.broken).toBeGreaterThan(
        SEAM_LOOK,
      );
    const whole = readSeams(cropped(base, 0, 0, 256, Math.round(10 * course)), "color").down.broken;
    expect(whole).toBeLessThan(SEAM_WRONG);
  });

  test("a joint on the edge is none, though only one other joint is there to compare it with", () => {
    const two = tiles({
      seed: 5,
      tile: { width: 594, height: 294 },
      joint: 6,
      across: 2,
      up: 4,
      colors: ["#8c8a84", "#97948c"],
      jointColor: "#6d6a65",
      finish: "matt",
    });
    const set = renderPattern(two.surface, { repeat: two.repeat, widthPx: 512, heightPx: 512 });
    expect(broken(set.geometry_normal, "normal")).toBeLessThan(SEAM_LOOK);
    expect(broken(set.base_color)).toBeLessThan(SEAM_LOOK);
  });

  test("a strip as long as a picture may be is read as well", () => {
    const strip = createRaster(104, 32_768, 3, 8);
    const { data } = noise(104, 9);
    for (let i = 0; i < strip.data.length; i++) strip.data[i] = data[i % data.length];
    // It ends within its pattern, which is 104 rows long.
    expect(readSeams(strip, "color").down.broken).toBeGreaterThan(SEAMLESS);
  });

  test("a step along half of one edge is found where it is", () => {
    const image = mapped(noise(128, 7), (v) => 0.4 + (v - 0.4) * 0.3);
    for (let y = 60; y < 120; y++)
      for (let x = 0; x < 12; x++) for (let c = 0; c < 3; c++) image.data[(y * 128 + x) * 3 + c] += 60;
    const { across, down } = readSeams(image, "color");
    expect(across.broken).toBeGreaterThan(SEAM_LOOK);
    expect(across.worstAt).toBeGreaterThan(0.5);
    expect(down.broken).toBeLessThan(SEAM_LOOK);
  });

  test("light that falls off from one side is one, and what 8 bits can hardly write down is none", () => {
    const plaster = sampleSet("scraped").base_color;
    const lit = mapped(plaster, (v, _c, i) => v * (0.7 + 0.3 * ((Math.floor(i / 3) % 256) / 256)));
    expect(readSeams(lit, "color").across.broken).toBeGreaterThan(SEAM_LOOK);
    const height = createRaster(128, 128, 1, 8);
    for (let i = 0; i < height.data.length; i++) height.data[i] = i % 128 < 64 ? 127 : 128;
    expect(broken(height, "data")).toBe(0);
  });

  test("flat and tiny images have none", () => {
    for (const [width, height] of [
      [1, 1],
      [2, 2],
      [64, 4],
      [300, 1],
    ]) {
      const { broken, worstAt } = worstSeam(readSeams(createRaster(width, height, 1, 8), "data"));
      expect(broken).toBe(0);
      expect(worstAt).toBeGreaterThanOrEqual(0);
    }
  });
});

test("of a large image an even grid is enough for each sample", () => {
  const raster = createRaster(900, 700, 1, 8);
  for (let i = 0; i < raster.data.length; i++)
    raster.data[i] = Math.round(127 + 100 * Math.sin((i % 900) / 90) * Math.cos(i / 90_000));
  const small = reducedPlane(raster, (o) => raster.data[o] / 255, 45, 35);
  const expected = resample(lumaOf(raster), 45, 35);
  for (let i = 0; i < small.data.length; i++) expect(small.data[i]).toBeCloseTo(expected.data[i], 1);
});

test.each([
  [256, 256],
  [97, 41],
  [301, 640],
])("an image of %i × %i px is reduced as its plane would be", (width, height) => {
  const raster = createRaster(width, height, 1, 8);
  for (let i = 0; i < raster.data.length; i++) raster.data[i] = (i * 7919) % 256;
  const small = reducedPlane(raster, (o) => raster.data[o] / 255, 90, 40);
  const expected = resample(lumaOf(raster), 90, 40);
  for (let i = 0; i < small.data.length; i++) expect(small.data[i]).toBeCloseTo(expected.data[i], 5);
});
