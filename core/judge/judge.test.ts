import { describe, expect, test } from "@jest/globals";
import { dropAlpha } from "#core/convert/kernels/channels";
import { flipGreen } from "#core/convert/kernels/flipGreen";
import { alignmentOf, edgesOf } from "#core/judge/alignment";
import { holdsUpFrom, pixelsPerMetre } from "#core/judge/holdsUp";
import { judgeDensity } from "#core/judge/judgeDensity";
import { readImage } from "#core/judge/imageReading";
import { directionByCurl, directionByHeight } from "#core/judge/normalDirection";
import { readReflectance } from "#core/judge/reflectance";
import { readRepetition } from "#core/judge/repetition";
import { readSeams, SEAM_LOOK, worstEdge } from "#core/judge/seams";
import { cropped, mapped, noise, quarterTurned, rolled, sampleSet } from "#core/judge/testing";
import { renderPattern } from "#core/pattern/patternSet";
import { tiles } from "#core/pattern/tiles";
import { lumaOf } from "#core/raster/plane";
import { createRaster } from "#core/raster/raster";

const NAMES = ["brick", "planks", "tiles", "chips", "trowelled", "scraped", "cast"];
const RELIEF = ["brick", "planks", "tiles", "trowelled", "scraped"];

test("a joint on the edge is no seam, though only one other joint is there to compare it with", () => {
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
  for (const map of [set.geometry_normal, set.height])
    expect(worstEdge(readSeams(map, "data")).score).toBeLessThan(SEAM_LOOK);
  // A true step of the same picture is still seen.
  expect(worstEdge(readSeams(cropped(set.base_color, 100, 60, 300, 300), "color")).score).toBeGreaterThan(
    SEAM_LOOK,
  );
});

describe("the direction of a normal map", () => {
  test.each(RELIEF)("is told from the pixels of %s, and is the other one when green is flipped", (name) => {
    const { geometry_normal: normal } = sampleSet(name);
    expect(directionByCurl(normal)).toMatchObject({ direction: "+Y" });
    expect(directionByCurl(normal)!.sure).toBeGreaterThan(0.85);
    expect(directionByCurl(flipGreen(normal))).toMatchObject({ direction: "-Y" });
  });

  test.each(RELIEF)("is told from the height of %s, also where the height is upside down", (name) => {
    const { geometry_normal: normal, height } = sampleSet(name);
    const plane = lumaOf(height);
    expect(directionByHeight(normal, plane)).toMatchObject({ direction: "+Y", inverted: false });
    expect(directionByHeight(flipGreen(normal), plane)).toMatchObject({ direction: "-Y", inverted: false });
    const upsideDown = { ...plane, data: plane.data.map((v) => 1 - v) };
    expect(directionByHeight(normal, upsideDown)).toMatchObject({ direction: "+Y", inverted: true });
  });

  test("is not told from a flat map", () => {
    const flat = createRaster(64, 64, 3, 8);
    for (let i = 0; i < flat.data.length; i += 3) flat.data.set([128, 128, 255], i);
    expect(directionByCurl(flat)).toBeNull();
  });
});

describe("seams", () => {
  // The joints of the chips are narrower than a pixel at this size: each falls differently on the grid.
  test.each(NAMES.filter((name) => name !== "chips"))(
    "%s from the maker is seamless in all its maps",
    (name) => {
      const set = sampleSet(name);
      for (const [map, values] of [
        [set.base_color, "color"],
        [set.height, "data"],
        [set.specular_roughness, "data"],
      ] as const)
        expect(worstEdge(readSeams(map, values)).score).toBeLessThan(1.6);
    },
  );

  test.each(["brick", "planks", "tiles", "trowelled", "cast"])("%s cut at an odd place is not", (name) => {
    const { base_color: base } = sampleSet(name);
    const seams = readSeams(cropped(base, 11, 9, 203, 187), "color");
    expect(Math.max(seams.top.high, seams.left.high, worstEdge(seams).score)).toBeGreaterThan(1.6);
  });

  test("a step along half of one edge is found where it is", () => {
    const image = mapped(noise(128, 7), (v) => 0.4 + (v - 0.4) * 0.3);
    for (let y = 64; y < 128; y++)
      for (let x = 0; x < 6; x++) for (let c = 0; c < 3; c++) image.data[(y * 128 + x) * 3 + c] += 60;
    const { left, top } = readSeams(image, "color");
    expect(left.high).toBeGreaterThan(1.5);
    expect(left.worstAt).toBeGreaterThan(0.5);
    expect(top.score).toBeLessThan(1.3);
  });

  test("a joint on the edge is no seam", () => {
    const { base_color: base } = sampleSet("tiles");
    for (const shift of [0, 1, 2, 20])
      expect(worstEdge(readSeams(rolled(base, shift, shift), "color")).score).toBeLessThan(1.7);
  });

  test("flat and tiny images have none", () => {
    for (const [width, height] of [
      [1, 1],
      [2, 2],
      [64, 4],
      [300, 1],
    ]) {
      const { score, worstAt } = worstEdge(readSeams(createRaster(width, height, 1, 8), "data"));
      expect(score).toBeCloseTo(1);
      expect(worstAt).toBeGreaterThanOrEqual(0);
    }
  });
});

describe("repetition", () => {
  const withSpot = (size: number, by: number) => {
    const image = noise(128, 9);
    return mapped(image, (v, _channel, i) => {
      const at = Math.floor(i / 3);
      const [x, y] = [at % 128, Math.floor(at / 128)];
      return Math.hypot(x - 40, y - 90) < size ? v + by : v;
    });
  };

  test("one loud spot gives the tiling away, and is named", () => {
    const { giveaway, spots } = readRepetition(withSpot(14, -0.2));
    expect(giveaway).toBeGreaterThan(0.6);
    expect(spots[0].x).toBeCloseTo(40 / 128, 1);
    expect(spots[0].y).toBeCloseTo(90 / 128, 1);
    expect(spots[0].lightness).toBeLessThan(-3);
  });

  test("noise and equal modules do not", () => {
    expect(readRepetition(noise(128, 10))).toMatchObject({ giveaway: 0, spots: [] });
    expect(readRepetition(sampleSet("tiles").base_color).giveaway).toBeLessThan(0.35);
  });

  test("a louder spot gives more away", () => {
    const [soft, loud] = [0.015, 0.15].map((by) => readRepetition(withSpot(14, by)).giveaway);
    expect(loud).toBeGreaterThan(soft);
  });
});

describe("belonging together", () => {
  const { base_color: base, geometry_normal: normal, height } = sampleSet("brick");
  const edges = edgesOf(base, false);

  test("maps of one set lie in place", () => {
    for (const other of [edgesOf(height, false), edgesOf(normal, true)]) {
      const { turns, mirrored, peak, peakInPlace } = alignmentOf(edges, other);
      expect({ turns, mirrored }).toEqual({ turns: 0, mirrored: false });
      expect(peakInPlace).toBeGreaterThan(peak * 0.6);
    }
  });

  test("a shifted map is found by how much", () => {
    const { shiftX, shiftY, peak, peakInPlace } = alignmentOf(edges, edgesOf(rolled(height, 32, -16), false));
    expect(shiftX).toBeCloseTo(32 / 256, 1);
    expect(shiftY).toBeCloseTo(-16 / 256, 1);
    expect(peak).toBeGreaterThan(2.5 * peakInPlace);
  });

  test("a turned map is found by its turn", () => {
    const { turns } = alignmentOf(edges, edgesOf(quarterTurned(height), false));
    expect(turns).toBe(3);
  });
});

describe("what one image is like", () => {
  test("a 16-bit file that holds 8 bits is found, and one that holds 16 is not", () => {
    const { height } = sampleSet("trowelled");
    expect(readImage(height).usedBits).toBe(height.bitDepth);
    const deep = createRaster(64, 64, 1, 16);
    for (let i = 0; i < deep.data.length; i++) deep.data[i] = ((i * 7) % 256) * 257;
    expect(readImage(deep).usedBits).toBe(8);
    for (let i = 0; i < deep.data.length; i++) deep.data[i] = ((i * 7) % 200) * 250 + 3;
    expect(readImage(deep).usedBits).toBe(8);
    for (let i = 0; i < deep.data.length; i++) deep.data[i] = (i * 7919) % 65536;
    expect(readImage(deep).usedBits).toBe(16);
  });

  test("blocks of eight pixels show", () => {
    const smooth = noise(256, 3);
    expect(readImage(smooth).blocks).toBeLessThan(1.1);
    const blocky = mapped(smooth, (v, _c, i) => {
      const [x, y] = [Math.floor(i / 3) % 256, Math.floor(i / 768)];
      return v * 0.1 + 0.3 + 0.1 * (((x >> 3) + (y >> 3)) % 2);
    });
    // Joints that lie on the grid in one direction are no blocks.
    const striped = mapped(
      smooth,
      (v, _c, i) => v * 0.1 + 0.3 + 0.1 * (((Math.floor(i / 3) % 256) >> 3) % 2),
    );
    expect(readImage(striped).blocks).toBeLessThan(1.1);
    expect(readImage(blocky).blocks).toBeGreaterThan(1.5);
  });

  test("shares that no surface reflects are counted in linear light", () => {
    const half = createRaster(64, 64, 3, 8);
    for (let i = 0; i < half.data.length; i++) half.data[i] = i < half.data.length / 2 ? 20 : 250;
    const { dark, light } = readImage(half);
    expect(dark).toBeCloseTo(0.5);
    expect(light).toBeCloseTo(0.5);
  });

  test("the pores of a dark veneer are no fault, and what a cut-out leaves out does not count", () => {
    const veneer = createRaster(256, 256, 3, 8);
    for (let i = 0; i < veneer.data.length; i++) veneer.data[i] = (i * 7919) % 100 < 30 ? 8 : 60;
    expect(readReflectance(veneer).dark).toBe(0);
    // Black paint under the empty half of a leaf.
    const leaf = createRaster(64, 64, 4, 8);
    for (let i = 0; i < leaf.data.length; i += 4)
      leaf.data.set(i < leaf.data.length / 2 ? [0, 0, 0, 0] : [60, 90, 40, 255], i);
    expect(readReflectance(leaf)).toEqual({ dark: 0, light: 0 });
    const opaque = dropAlpha(leaf);
    expect(readReflectance(opaque).dark).toBeCloseTo(0.5);
    const mask = { width: 2, height: 2, data: Float32Array.from([0, 0, 1, 1]) };
    expect(readReflectance(opaque, mask).dark).toBe(0);
    // A gloss in the fourth channel hides nothing.
    for (let i = 3; i < leaf.data.length; i += 4) leaf.data[i] = 90 + (i % 64);
    expect(readReflectance(leaf).dark).toBeCloseTo(0.5);
  });

  test("vectors of length 1 are counted", () => {
    expect(readImage(sampleSet("brick").geometry_normal).normal).toMatchObject({ unit: expect.any(Number) });
    expect(readImage(sampleSet("brick").geometry_normal).normal!.unit).toBeGreaterThan(0.95);
    expect(readImage(sampleSet("brick").base_color).normal!.unit).toBeLessThan(0.3);
  });
});

describe("from which distance a map holds up", () => {
  const camera = { widthPx: 3840, angleDegrees: 60 };
  test("a worked example: 3840 px over 60° show 1 m at 1 m as 3325 px", () => {
    expect(pixelsPerMetre(camera, 1)).toBeCloseTo(3325.5, 0);
    expect(pixelsPerMetre(camera, 10)).toBeCloseTo(332.55, 1);
    expect(holdsUpFrom(camera, 1024)).toBeCloseTo(3.2476, 3);
  });
});

describe("pixels enough for a purpose, once a size is told", () => {
  const map = { file: "a.png", width: 1024 };

  test("counts from the distance at which a texel is a pixel", () => {
    // 1024 px over 1024 mm are 1000 px/m; 3840 px at 60° are 3325 px for each metre at 1 m.
    const size = { width: 1024, height: 1024 };
    expect(judgeDensity(map, size, "near")).toMatchObject({ level: "look", file: "a.png" });
    expect(judgeDensity(map, size, "near")!.message).toContain("With 1000 px/m it holds up from 3.3 m on");
    expect(judgeDensity(map, size, "far")).toBeUndefined();
    expect(judgeDensity(map, { width: 500, height: 500 }, "near")).toMatchObject({ level: "note" });
    expect(judgeDensity(map, { width: 400, height: 400 }, "near")).toBeUndefined();
  });
});
