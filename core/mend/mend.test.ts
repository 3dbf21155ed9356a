import { describe, expect, test } from "@jest/globals";
import { readSeams, SEAM_LOOK, worstSeam } from "#core/judge/seams";
import { cropped, mapped, noise, sampleSet } from "#core/judge/testing";
import { findModuleCrop } from "#core/mend/cropToModules";
import { cutSeam } from "#core/mend/cutSeam";
import { evenOut } from "#core/mend/evenOut";
import { findOverlap } from "#core/mend/findOverlap";
import { mendSeams } from "#core/mend/mendSeams";
import { brick } from "#core/pattern/brick";
import { renderPattern } from "#core/pattern/patternSet";
import { lumaOf } from "#core/raster/plane";
import { seededRandom } from "#core/pattern/random";
import { linearTable } from "#core/raster/srgb";
import type { Raster } from "#core/raster/raster";

const BOTH = { across: true, down: true };

describe("mending the seams", () => {
  test.each(["brick", "tiles", "trowelled", "scraped"])("%s cut at an odd place repeats again", (name) => {
    const set = sampleSet(name);
    const part = (map: Raster) => cropped(map, 13, 17, 229, 213);
    const base = part(set.base_color);
    const { maps } = mendSeams(
      [
        { raster: base, values: "srgb" },
        { raster: part(set.geometry_normal), values: "normal" },
        { raster: part(set.height), values: "data" },
      ],
      BOTH,
    );
    const worst = (image: Raster) => worstSeam(readSeams(image, "color")).broken;
    expect(worst(maps[0])).toBeLessThan(worst(base));
    expect(worst(maps[0])).toBeLessThan(SEAM_LOOK);
    expect(maps.map(({ width, height }) => [width, height])).toEqual(
      Array(3).fill([maps[0].width, maps[0].height]),
    );
  });

  test("a pattern is left with a whole number of modules", () => {
    // Six tiles over 256 px: a module is 42.67 px; 229 px hold five and a part.
    const { base_color: base, height } = sampleSet("tiles");
    const part = (map: Raster) => cropped(map, 13, 17, 229, 213);
    const { overlap } = mendSeams(
      [
        { raster: part(base), values: "srgb" },
        { raster: part(height), values: "data" },
      ],
      BOTH,
    );
    const modules = (229 - overlap.across) / (256 / 6);
    expect(Math.abs(modules - Math.round(modules))).toBeLessThan(0.06);
    const courses = (213 - overlap.down) / (256 / 6);
    expect(Math.abs(courses - Math.round(courses))).toBeLessThan(0.06);
  });

  test("brickwork keeps its bond: whole bricks across and an even number of courses", () => {
    // Four bricks and twelve courses over 256 px.
    const { overlap } = mendSeams(
      [{ raster: cropped(sampleSet("brick").base_color, 13, 17, 229, 213), values: "srgb" }],
      BOTH,
    );
    expect((229 - overlap.across) / 64).toBeCloseTo(3, 1);
    const bonds = (213 - overlap.down) / (256 / 6);
    expect(Math.abs(bonds - Math.round(bonds))).toBeLessThan(0.06);
  });

  test("what comes out even in a direction is left as it is there, and refused where that is all", () => {
    const { base_color: base } = sampleSet("tiles");
    const { overlap } = mendSeams([{ raster: cropped(base, 0, 17, 256, 213), values: "srgb" }], BOTH);
    expect(overlap.across).toBe(0);
    expect(overlap.down).toBeGreaterThan(0);
    expect(() => mendSeams([{ raster: base, values: "srgb" }], BOTH)).toThrow(/comes out even already/);
  });

  test("a pattern of which less than two thirds would be left is refused", () => {
    const { base_color: base } = sampleSet("tiles");
    expect(() =>
      mendSeams([{ raster: cropped(base, 0, 0, 256, 80), values: "srgb" }], { across: false, down: true }),
    ).toThrow(/What repeats in it measures 4\d px.*more than a third.*Crop it to whole modules/);
  });

  test("a bond that the picture does not hold once is refused by mending and cropping alike, and not cut anywhere", () => {
    // Two courses of 70 px in half bond, of which 118 px are left: neither one course nor both repeat.
    const { surface, repeat } = brick({
      seed: 3,
      brick: { width: 210, height: 140 },
      joint: 10,
      across: 5,
      courses: 2,
      colors: ["#9c4a34", "#87402f"],
      mortar: "#b9b0a2",
      recess: 4,
      roughness: 0.4,
    });
    const wall = renderPattern(surface, { repeat, widthPx: 512, heightPx: 140 }).base_color;
    const part = cropped(wall, 21, 7, 440, 118);
    const down = { across: false, down: true };
    const why = /looks like a pattern.*from top to bottom was not found/;
    expect(() => mendSeams([{ raster: part, values: "srgb" }], down)).toThrow(why);
    expect(() => findModuleCrop([part], down)).toThrow(why);
    const { overlap } = mendSeams([{ raster: part, values: "srgb" }], { across: true, down: false });
    expect(Math.abs((440 - overlap.across) / 102.4 - 4)).toBeLessThan(0.03);
  });

  test("a pattern keeps its pitch under heavy noise", () => {
    const random = seededRandom(4);
    const walls = cropped(sampleSet("brick").base_color, 13, 17, 229, 213);
    const noisy = mapped(walls, (v) => v + 0.4 * (random() - 0.5));
    const { overlap } = mendSeams([{ raster: noisy, values: "srgb" }], BOTH);
    const bonds = [(229 - overlap.across) / 64, (213 - overlap.down) / (256 / 6)];
    for (const held of bonds) expect(Math.abs(held - Math.round(held))).toBeLessThan(0.06);
  });

  test("light that falls from one side leaves no band where the edges meet", () => {
    const wall = cropped(sampleSet("trowelled").base_color, 13, 17, 229, 213);
    const lit = mapped(
      wall,
      (value, _, i) => value * (0.7 + (0.3 * (Math.floor(i / wall.channels) % 229)) / 228),
    );
    const mended = (raster: Raster) =>
      mendSeams([{ raster, values: "srgb" }], { across: true, down: false }).maps[0];
    // Means of eight upright strips, in linear light, against the strip beside them.
    const steps = (image: Raster) => {
      const luma = lumaOf(image);
      const strips = Array<number>(8).fill(0);
      luma.data.forEach((v, i) => (strips[Math.floor(((i % luma.width) * 8) / luma.width)] += v));
      const mean = strips.reduce((sum, v) => sum + v, 0) / 8;
      return Math.max(...strips.map((v, i) => Math.abs(v - strips[(i + 1) % 8]) / mean));
    };
    expect(steps(lit)).toBeGreaterThan(0.2);
    expect(steps(mended(lit))).toBeLessThan(steps(mended(wall)) + 0.02);
  });

  test("vectors stay of length 1, and one direction can be left alone", () => {
    const normal = cropped(sampleSet("brick").geometry_normal, 0, 17, 256, 200);
    const { maps, overlap } = mendSeams([{ raster: normal, values: "normal" }], {
      across: false,
      down: true,
    });
    expect(overlap.across).toBe(0);
    expect(maps[0].width).toBe(256);
    const max = normal.bitDepth === 16 ? 65535 : 255;
    for (let i = 0; i < maps[0].data.length; i += 3 * 97) {
      const n = [0, 1, 2].map((c) => (maps[0].data[i + c] / max) * 2 - 1);
      expect(Math.hypot(...n)).toBeCloseTo(1, 1);
    }
  });

  test("maps of two sizes and images without room are refused in words", () => {
    expect(() =>
      mendSeams(
        [
          { raster: noise(64, 1), values: "data" },
          { raster: noise(96, 2), values: "data" },
        ],
        BOTH,
      ),
    ).toThrow("differ in size");
    expect(() => mendSeams([{ raster: noise(32, 1), values: "data" }], BOTH)).toThrow("48 px");
  });
});

test("the cut takes the cheap way, and its end meets its beginning", () => {
  const [width, height] = [9, 40];
  const data = new Float32Array(width * height).fill(1);
  const path = Array.from(
    { length: height },
    (_, y) => 4 + Math.round(3 * Math.sin((2 * Math.PI * y) / height)),
  );
  path.forEach((x, y) => (data[y * width + x] = 0));
  const cut = cutSeam({ width, height, data });
  expect([...cut]).toEqual(path);
  expect(Math.abs(cut[0] - cut[height - 1])).toBeLessThanOrEqual(1);
  const slope = new Float32Array(width * height).fill(1);
  for (let y = 0; y < height; y++) slope[y * width + Math.min(8, Math.floor(y / 5))] = 0;
  const closed = cutSeam({ width, height, data: slope });
  expect(Math.abs(closed[0] - closed[height - 1])).toBeLessThanOrEqual(1);
});

test("the overlap falls on the period of a pattern", () => {
  const waves = mapped(noise(200, 5, 1), (_v, _c, i) => 0.5 + 0.4 * Math.sin((2 * Math.PI * (i % 200)) / 30));
  const { lines, misfit } = findOverlap([lumaOf(waves)], "across");
  expect((200 - lines) % 30).toBe(0);
  expect(misfit).toBeLessThan(0.01);
});

describe("evening out", () => {
  const shaded = mapped(sampleSet("scraped").base_color, (v, _c, i) => {
    const x = Math.floor(i / 3) % 256;
    return v * (0.8 + 0.2 * Math.sin((2 * Math.PI * x) / 256));
  });
  const halves = (image: Raster) => {
    const table = linearTable(8);
    const sums = [0, 0];
    for (let i = 0; i < image.data.length; i += 3)
      sums[Math.floor(i / 3) % 256 < 128 ? 0 : 1] += table[image.data[i]];
    return sums;
  };

  test("takes the slow light and dark out and keeps the mean", () => {
    const even = evenOut(shaded, 0.25, 1);
    const [before, after] = [halves(shaded), halves(even)];
    expect(before[0] / before[1]).toBeGreaterThan(1.4);
    expect(after[0] / after[1]).toBeLessThan(1.06);
    expect((after[0] + after[1]) / (before[0] + before[1])).toBeCloseTo(1, 1);
  });

  test("of strength 0 changes nothing", () => {
    expect(Buffer.compare(Buffer.from(evenOut(shaded, 0.25, 0).data), Buffer.from(shaded.data))).toBe(0);
  });
});
