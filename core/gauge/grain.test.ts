import { describe, expect, test } from "@jest/globals";
import { sampleSet } from "#core/judge/testing";
import { seededRandom } from "#core/pattern/random";
import { lumaOf, type Plane } from "#core/raster/plane";
import { CLEAR_GRAIN, grainOf } from "./grain";

const SIDE = 128;

/** Waves along a lattice direction, so that the picture repeats, with noise over them. */
function streaks(across: number, down: number, noise = 0.1): Plane {
  const random = seededRandom(3);
  const data = Float32Array.from({ length: SIDE * SIDE }, (_, i) => {
    const [x, y] = [i % SIDE, Math.floor(i / SIDE)];
    return 0.5 + 0.3 * Math.sin((2 * Math.PI * (across * x + down * y)) / SIDE) + noise * (random() - 0.5);
  });
  return { width: SIDE, height: SIDE, data };
}

describe("grain", () => {
  test.each([
    ["up and down", 12, 0, 90],
    ["across", 0, 12, 0],
    // It rises to the right where the waves move along with x and y alike, y going down.
    ["rising", 9, 9, 45],
    ["falling", 9, -9, 135],
    ["steep", 12, 4, Math.atan2(12, 4) * (180 / Math.PI)],
  ])("that runs %s", (_, across, down, angle) => {
    const grain = grainOf(streaks(across, down));
    const off = Math.abs(grain.angle - angle);
    expect(Math.min(off, 180 - off)).toBeLessThan(1.5);
    expect(grain.clear).toBeGreaterThan(0.6);
  });

  test("is in boards, along them", () => {
    const { angle, clear } = grainOf(lumaOf(sampleSet("planks").base_color));
    expect(Math.min(angle, 180 - angle)).toBeLessThan(3);
    expect(clear).toBeGreaterThan(CLEAR_GRAIN);
  });

  test("is in no noise, and in no single colour", () => {
    expect(grainOf(streaks(0, 0, 0.5)).clear).toBeLessThan(CLEAR_GRAIN / 2);
    const flat = { width: 8, height: 8, data: new Float32Array(64).fill(0.3) };
    expect(grainOf(flat)).toEqual({ angle: 0, clear: 0 });
  });

  test("is in no square tiles", () => {
    expect(grainOf(lumaOf(sampleSet("tiles").base_color)).clear).toBeLessThan(CLEAR_GRAIN / 2);
  });
});
