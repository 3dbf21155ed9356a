import { describe, expect, test } from "@jest/globals";
import { finishSchema, type Finish } from "#core/finish/finish";
import { sampleSet } from "#core/judge/testing";
import { CONDITIONS } from "#core/picture/condition";
import { matchColor } from "#core/picture/matchColor";
import { makePicture } from "#core/picture/picture";
import {
  neutralGains,
  placingSchema,
  placingTrouble,
  referenceReader,
  referenceReduction,
  type PlacedReference,
  type Placing,
} from "#core/picture/reference";
import { roleTexture } from "#core/picture/roleTexture";
import type { DrawnMaterial } from "#core/picture/surfaceReader";
import type { View } from "#core/picture/view";
import { ciede2000 } from "#core/raster/ciede2000";
import { linearToLab } from "#core/raster/lab";
import { createRaster } from "#core/raster/raster";
import { hexToLinear, linearTable } from "#core/raster/srgb";
import { textureOf } from "#core/raster/texture";
import type { Rgb } from "#core/shade/rgb";

const VIEW: View = {
  shape: "panel",
  width: 200,
  height: 100,
  mmPerPx: 2,
  centre: { x: 0, y: 0 },
  cards: false,
};

/** A picture of a wall whose left half is grey and whose right half is reddish, in linear light. */
function wall(left: Rgb, right: Rgb, width = 400, height = 200): PlacedReference {
  const data = new Float32Array(width * height * 3);
  for (let i = 0; i < width * height; i++) data.set(i % width < width / 2 ? left : right, i * 3);
  const texture = { width, height, channels: 3 as const, data, wraps: false };
  return { texture, width, height, placing: null, neutral: null };
}
const GREY: Rgb = [0.2, 0.2, 0.2];
const RED: Rgb = [0.4, 0.2, 0.1];
const CORNERS = (left: number, right: number): Placing => ({
  by: "corners",
  corners: [
    { x: left, y: 0 },
    { x: right, y: 0 },
    { x: right, y: 1 },
    { x: left, y: 1 },
  ],
  widthMm: 300,
  heightMm: 300,
});

describe("a reference picture", () => {
  test("is shown to scale by two points: as wide as it is in reality, and nothing beyond it", () => {
    // 100 of its 400 pixels are 75 mm: it is 300 mm wide, which is 150 of the view's 200 px.
    const placing: Placing = {
      by: "points",
      from: { x: 0.5, y: 0.5 },
      to: { x: 0.75, y: 0.5 },
      lengthMm: 75,
    };
    const at = referenceReader({ ...wall(GREY, RED), placing }, VIEW, { x: 0, y: 0 });
    const row = Array.from({ length: 200 }, (_, x) => at(x + 0.5, 50.5));
    expect(row.filter(Boolean)).toHaveLength(150);
    expect(row.findIndex(Boolean)).toBe(25);
    expect(row[60]![0]).toBeCloseTo(0.2, 5);
    expect(row[140]![0]).toBeCloseTo(0.4, 5);
    // Moved by 100 mm to the right, that is 50 px, what was there lies to the left.
    const moved = referenceReader({ ...wall(GREY, RED), placing }, VIEW, { x: 100, y: 0 });
    expect(moved(60.5, 50.5)![0]).toBeCloseTo(0.4, 5);
    expect(referenceReduction({ ...wall(GREY, RED), placing }, VIEW)).toBeCloseTo(2 / 0.75, 6);
  });

  test("is flattened by four corners, and fits in the view where nobody gave it a size", () => {
    const half = referenceReader({ ...wall(GREY, RED), placing: CORNERS(0.5, 1) }, VIEW, { x: 0, y: 0 });
    const row = Array.from({ length: 200 }, (_, x) => half(x + 0.5, 50.5));
    expect(row.filter(Boolean)).toHaveLength(150);
    for (const color of row.filter(Boolean).slice(2)) expect(color![0]).toBeCloseTo(0.4, 3);
    const whole = referenceReader(wall(GREY, RED), VIEW, { x: 500, y: 500 });
    expect([whole(0.5, 50.5), whole(199.5, 50.5)].every(Boolean)).toBe(true);
  });

  test("says why it cannot be placed, and takes no nonsense", () => {
    const picture = { width: 400, height: 200 };
    const point = { x: 0.5, y: 0.5 };
    expect(placingTrouble({ by: "points", from: point, to: point, lengthMm: 75 }, picture)).toContain(
      "Pull them",
    );
    expect(placingTrouble(CORNERS(0.9, 0.1), picture)).toContain("mirrored");
    expect(placingTrouble(CORNERS(0.1, 0.9), picture)).toBeUndefined();
    for (const wrong of [
      { by: "points", from: point, to: { x: 9, y: 0 }, lengthMm: 75 },
      { by: "points", from: point, to: point, lengthMm: 0 },
      { by: "corners", corners: [point], widthMm: 1, heightMm: 1 },
      { by: "hand" },
    ])
      expect(placingSchema.safeParse(wrong).success).toBe(false);
  });

  test("is made neutral by a grey, and exposed by what that reflects", () => {
    const tinged = wall([0.3, 0.2, 0.1], RED);
    const [r, g, b] = neutralGains({ ...tinged, neutral: { x: 0.25, y: 0.5 } });
    expect([0.3 * r, 0.2 * g, 0.1 * b].map((value) => Number(value.toFixed(5)))).toEqual(
      Array(3).fill(Number((0.2126 * 0.3 + 0.7152 * 0.2 + 0.0722 * 0.1).toFixed(5))),
    );
    const card = neutralGains({ ...tinged, neutral: { x: 0.25, y: 0.5, reflects: 18 } });
    expect(0.3 * card[0]).toBeCloseTo(0.18, 5);
    const at = referenceReader({ ...tinged, neutral: { x: 0.25, y: 0.5, reflects: 18 } }, VIEW, {
      x: 0,
      y: 0,
    });
    expect(at(20.5, 50.5)!.map((value) => Number(value.toFixed(4)))).toEqual([0.18, 0.18, 0.18]);
    // A spot that is black is no grey; what it would take is bounded.
    expect(
      Math.max(...neutralGains({ ...wall([0, 0, 0], RED), neutral: { x: 0.1, y: 0.5, reflects: 90 } })),
    ).toBe(16);
  });
});

describe("a matched colour", () => {
  const set = sampleSet("brick");
  const map = (role: "base_color" | "specular_roughness") =>
    roleTexture(
      { role, channel: "color", normalDirection: null, raster: set[role] },
      { reduce: 2, wraps: true },
    );
  const brick = (finish: Partial<Finish>): DrawnMaterial => ({
    textures: Object.fromEntries([map("base_color"), map("specular_roughness")]),
    finish: finishSchema.parse(finish),
    repeat: set.repeat,
    heightMm: 0,
  });
  const view: View = { ...VIEW, width: 120, height: 80, mmPerPx: 6, centre: { x: 450, y: 450 } };
  const meanLab = (material: DrawnMaterial) => {
    const { data } = makePicture(material, view, CONDITIONS.studio);
    const sums = [0, 0, 0];
    for (let i = 0; i < data.length; i++) sums[i % 3] += linearTable(8)[data[i]];
    const [r, g, b] = sums.map((sum) => (sum * 3) / data.length);
    return linearToLab(r, g, b);
  };

  test.each([
    ["#8a7256", {}],
    ["#a08a70", { roughnessScale: 0.3, coatWeight: 1, coatRoughness: 0.1 }],
    ["#4a5a66", { tint: "#ff8866", saturation: 0.6 }],
    ["#777777", { gamma: 1.2, contrast: 1.15 }],
  ] as [string, Partial<Finish>][])(
    "comes to %s within ΔE2000 1, with the rest of the finish %j",
    (hex, finish) => {
      const target = hexToLinear(hex);
      const match = matchColor(brick(finish), view, CONDITIONS.studio, target);
      const { tint, brightnessStops } = match;
      const wanted = linearToLab(...target);
      expect(ciede2000(meanLab(brick({ ...finish, tint, brightnessStops })), wanted)).toBeLessThan(1);
      expect(match.after).toBeLessThan(1);
      expect(match.before).toBeCloseTo(ciede2000(meanLab(brick(finish)), wanted), 0);
      expect(finishSchema.safeParse({ tint, brightnessStops }).success).toBe(true);
    },
  );

  test("that cannot be had comes as near as it can, and says how near", () => {
    // What a lacquer mirrors is lighter than black, whatever its base is.
    const dark = matchColor(brick({ coatWeight: 1 }), view, CONDITIONS.studio, [0, 0, 0]);
    expect(dark.after).toBeGreaterThan(1);
    expect(dark.after).toBeLessThan(dark.before);
    const light = matchColor(brick({}), view, CONDITIONS.studio, [3, 3, 3]);
    expect(light.after).toBeLessThan(light.before);
    for (const { tint, brightnessStops } of [dark, light])
      expect(finishSchema.safeParse({ tint, brightnessStops }).success).toBe(true);
  });

  test("is that of the picture it is read from", () => {
    const raster = createRaster(2, 2, 3, 8);
    raster.data.fill(128);
    const texture = textureOf(raster, { holds: "color", wraps: false });
    const at = referenceReader({ texture, width: 2, height: 2, placing: null, neutral: null }, VIEW, {
      x: 0,
      y: 0,
    });
    expect(at(100, 50)![1]).toBeCloseTo(linearTable(8)[128], 6);
  });
});
