import { describe, expect, test } from "@jest/globals";
import { dropAlpha } from "#core/convert/kernels/channels";
import { flipGreen } from "#core/convert/kernels/flipGreen";
import { alignmentOf, edgesOf } from "#core/judge/alignment";
import { holdsUpFrom, pixelsPerMetre } from "#core/judge/holdsUp";
import { readImage } from "#core/judge/imageReading";
import { directionByCurl, directionByHeight, isGreenLevel, weighed } from "#core/judge/normalDirection";
import { readReflectance } from "#core/judge/reflectance";
import { readRepetition } from "#core/judge/repetition";
import { mapped, noise, quarterTurned, rolled, sampleSet } from "#core/judge/testing";
import { lumaOf } from "#core/raster/plane";
import { createRaster } from "#core/raster/raster";

const RELIEF = ["brick", "planks", "tiles", "trowelled", "scraped"];

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

  /** Waves that run one way, as a height and as its normal map. */
  const ribs = (along: "x" | "y") => {
    const height = createRaster(128, 128, 1, 8);
    const normal = createRaster(128, 128, 3, 8);
    for (let y = 0; y < 128; y++)
      for (let x = 0; x < 128; x++) {
        const t = (2 * Math.PI * (along === "x" ? x : y)) / 16;
        const slope = 0.5 * Math.cos(t);
        const length = Math.hypot(slope, 1);
        const tilt = Math.round(127.5 + (127.5 * slope) / length);
        height.data[y * 128 + x] = Math.round(127.5 + 100 * Math.sin(t));
        // Under +Y a slope down the image tilts green up.
        normal.data.set(
          [along === "x" ? 255 - tilt : 128, along === "y" ? tilt : 128, Math.round(127.5 + 127.5 / length)],
          (y * 128 + x) * 3,
        );
      }
    return { height: lumaOf(height), normal };
  };

  test("is told of boards that lie by the slopes that there are, and is all the same to ribs that stand", () => {
    const boards = ribs("y");
    const told = directionByHeight(boards.normal, boards.height);
    expect(told).toMatchObject({ direction: "+Y", only: "down", together: true, inverted: false });
    expect(told.sure).toBeGreaterThan(0.85);
    expect(directionByHeight(flipGreen(boards.normal), boards.height).direction).toBe("-Y");
    const stand = ribs("x");
    expect(directionByHeight(stand.normal, stand.height)).toMatchObject({ only: "across", together: true });
    expect(isGreenLevel(stand.normal)).toBe(true);
    expect(isGreenLevel(boards.normal)).toBe(false);
  });

  test("is never sure where the slopes do not fit together, and what contradicts itself is not told", () => {
    const scrambled = mapped(noise(256, 4), (v, channel) => (channel === 2 ? 0.95 : v));
    expect(directionByCurl(scrambled)!.sure).toBeLessThan(0.7);
    const { geometry_normal: normal } = sampleSet("brick");
    const half = mapped(normal, (v) => v);
    const other = sampleSet("trowelled").geometry_normal;
    // Green of another surface: a map that is no relief.
    for (let i = 1; i < half.data.length; i += 3) half.data[i] = other.data[i];
    expect(directionByCurl(half)!.sure).toBeLessThan(0.85);
    expect(
      weighed([
        { direction: "+Y", sure: 0.95 },
        { direction: "-Y", sure: 0.95 },
      ])!.sure,
    ).toBeCloseTo(0.5);
    expect(
      weighed([
        { direction: "+Y", sure: 0.9 },
        { direction: "+Y", sure: 0.8 },
      ])!.sure,
    ).toBeCloseTo(36 / 37);
    expect(weighed([])).toBeUndefined();
  });

  test("is not told from a flat map", () => {
    const flat = createRaster(64, 64, 3, 8);
    for (let i = 0; i < flat.data.length; i += 3) flat.data.set([128, 128, 255], i);
    expect(directionByCurl(flat)).toBeNull();
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

  test("where a pattern is like itself, neither a shift nor a turn is told", () => {
    const tiled = sampleSet("tiles");
    const own = edgesOf(tiled.base_color, false);
    for (const other of [tiled.height, tiled.specular_roughness]) {
      const { peak, peakInPlace } = alignmentOf(own, edgesOf(other, false));
      expect(peak).toBeLessThan(2.5 * peakInPlace);
    }
    const there = alignmentOf(edges, edgesOf(normal, true));
    const flipped = alignmentOf(edges, edgesOf(flipGreen(normal), true));
    expect([flipped.shiftX, flipped.shiftY, flipped.turns]).toEqual([
      there.shiftX,
      there.shiftY,
      there.turns,
    ]);
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
    for (let i = 0; i < half.data.length; i++) half.data[i] = i < half.data.length / 2 ? 8 : 250;
    const { dark, light } = readImage(half);
    expect(dark).toBeCloseTo(0.5);
    expect(light).toBeCloseTo(0.5);
  });

  test("the pores of a dark veneer are no fault, and what a cut-out leaves out does not count", () => {
    const veneer = createRaster(256, 256, 3, 8);
    for (let i = 0; i < veneer.data.length; i++) veneer.data[i] = (i * 7919) % 100 < 60 ? 4 : 40;
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
