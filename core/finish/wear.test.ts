import { describe, expect, test } from "@jest/globals";
import { finishChangeSchema } from "#core/finish/finish";
import { marksOf } from "#core/finish/marks";
import {
  isLaid,
  proposedPolarity,
  wearLayerSchema,
  wornHeightMm,
  wornRoughness,
  type WearLayer,
} from "#core/finish/wear";
import { wearSize } from "#core/finish/wearSize";
import { seededRandom } from "#core/pattern/random";
import type { Texture } from "#core/raster/texture";

const LAYER: WearLayer = {
  material: "0b0e3c8e-6f0a-4a0e-9d51-0b62b1f8a001",
  revision: 1,
  strength: 1,
  polarity: "light",
  effect: "rougher",
  on: true,
};

/** Light in its top left quarter alone. */
const corner = (wraps: boolean): Texture => ({
  width: 64,
  height: 64,
  channels: 1,
  wraps,
  data: Float32Array.from({ length: 64 * 64 }, (_, i) => Number(i % 64 < 32 && i < 32 * 64)),
});

describe("a wear layer", () => {
  test("never smooths what it makes rougher, nor roughens what it makes smoother, and does nothing at 0", () => {
    const random = seededRandom(5);
    for (let i = 0; i < 200; i++) {
      const [roughness, by] = [random(), random()];
      expect(wornRoughness(roughness, "rougher", by)).toBeGreaterThanOrEqual(roughness);
      expect(wornRoughness(roughness, "rougher", by)).toBeLessThanOrEqual(1);
      expect(wornRoughness(roughness, "smoother", by)).toBeLessThanOrEqual(roughness);
      for (const effect of ["rougher", "smoother"] as const)
        expect(wornRoughness(roughness, effect, 0)).toBeCloseTo(roughness, 12);
    }
    // r' = 1 − (1 − r)(1 − s·m), and r (1 − s·m).
    expect(wornRoughness(0.4, "rougher", 0.5)).toBeCloseTo(0.7, 12);
    expect(wornRoughness(0.4, "smoother", 0.5)).toBeCloseTo(0.2, 12);
    expect(wornHeightMm({ effect: "cut-in", amountMm: 2 }, 0.25)).toBe(-0.5);
    expect(wornHeightMm({ effect: "stand-out", amountMm: 2 }, 0.25)).toBe(0.5);
    expect(wornHeightMm({ effect: "tint", amountMm: 2 }, 1)).toBe(0);
  });

  test("that is off, without strength or without a depth changes nothing", () => {
    expect(isLaid(LAYER)).toBe(true);
    expect(isLaid({ ...LAYER, on: false })).toBe(false);
    expect(isLaid({ ...LAYER, strength: 0 })).toBe(false);
    expect(isLaid({ ...LAYER, effect: "cut-in", amountMm: 0 })).toBe(false);
  });

  test("is refused with what is missing, where it is too much, and where there are too many", () => {
    const messages = (layer: object) =>
      wearLayerSchema.safeParse({ ...LAYER, ...layer }).error?.issues.map(({ path }) => path.join("."));
    expect(messages({})).toBeUndefined();
    expect(messages({ effect: "cut-in" })).toEqual(["amountMm"]);
    expect(messages({ effect: "tint" })).toEqual(["tint"]);
    expect(messages({ effect: "stand-out", amountMm: 1000 })).toEqual(["amountMm"]);
    expect(messages({ strength: 1.5 })).toEqual(["strength"]);
    expect(messages({ strength: Number.NaN })).toEqual(["strength"]);
    expect(messages({ turn: 45 })).toEqual(["turn"]);
    expect(messages({ repeat: { width: 0, height: 10 } })).toEqual(["repeat.width"]);
    expect(messages({ material: "../../etc" })).toEqual(["material"]);
    const many = (count: number) =>
      finishChangeSchema.safeParse({ wear: Array.from({ length: count }, () => LAYER) }).success;
    expect([many(10), many(11)]).toEqual([true, false]);
  });

  test("begins at its start, turns clockwise about it, and repeats there", () => {
    const size = { width: 400, height: 200 };
    const at = (layer: Partial<WearLayer>, x: number, y: number, wraps = true) =>
      marksOf({ layer: { ...LAYER, ...layer }, texture: corner(wraps), size })(x, y);
    expect([at({}, 100, 50), at({}, 300, 50), at({}, 100, 150), at({}, 500, 250)]).toEqual([1, 0, 0, 1]);
    expect([at({ start: { x: 200, y: 0 } }, 100, 50), at({ start: { x: 200, y: 0 } }, 300, 50)]).toEqual([
      0, 1,
    ]);
    // Turned by a quarter it is 200 mm wide and 400 high, and its top left is at the top right.
    expect([at({ turn: 90 }, 150, 100), at({ turn: 90 }, 50, 100), at({ turn: 90 }, 150, 300)]).toEqual([
      1, 0, 0,
    ]);
    expect([at({ turn: 180 }, 300, 150), at({ turn: 180 }, 100, 50)]).toEqual([1, 0]);
    expect([at({ turn: 270 }, 50, 300), at({ turn: 270 }, 150, 100)]).toEqual([1, 0]);
    expect([at({}, 500, 50, false), at({ polarity: "dark" }, 300, 50, false)]).toEqual([0, 1]);
    expect(at({ polarity: "dark" }, 900, 50, false)).toBe(0);
    expect(at({ strength: 0.25 }, 100, 50)).toBe(0.25);
  });

  test("has its own size, another one where that is said, and a guess where there is none", () => {
    const mask = { width: 200, height: 100 } as Parameters<typeof wearSize>[0]["mask"];
    const of = (layer: Partial<WearLayer>, repeat: { width: number; height: number } | null) =>
      wearSize({ layer: { ...LAYER, ...layer }, repeat, sizeState: repeat ? "known" : "unknown", mask });
    const own = { width: 800, height: 400 };
    expect(of({}, own)).toEqual({ size: own, isAssumed: false });
    expect(of({ repeat: { width: 90, height: 45 } }, own)).toEqual({
      size: { width: 90, height: 45 },
      isAssumed: false,
    });
    expect(of({}, null)).toEqual({ size: { width: 1000, height: 500 }, isAssumed: true });
  });

  test("proposes the lesser part as its marks, and is not sure where there is none", () => {
    const values = (marks: number, ground: number, share: number) =>
      Float32Array.from({ length: 1000 }, (_, i) => (i / 1000 < share ? marks : ground));
    expect(proposedPolarity(values(0.9, 0.1, 0.1))).toEqual({ polarity: "light", isSure: true });
    expect(proposedPolarity(values(0.1, 0.9, 0.1))).toEqual({ polarity: "dark", isSure: true });
    expect(proposedPolarity(values(0.5, 0.5, 1)).isSure).toBe(false);
    expect(proposedPolarity(Float32Array.from({ length: 1000 }, (_, i) => i / 1000)).isSure).toBe(false);
  });
});
