import { describe, expect, test } from "@jest/globals";
import type { ModuleCount } from "#core/gauge/findModules";
import { countedOf, moduleOf, startFor } from "./moduleOf";

const repeat = { width: 900, height: 900 };
const count = (of: Partial<ModuleCount>): ModuleCount => ({ bond: "stack", sure: 1, ...of });

describe("the module of a material", () => {
  test("is the one by which its size was found, joints and all", () => {
    const gauge = { method: "modules", across: 4, up: 12, workSize: { width: 215, height: 65 }, joint: 10 };
    expect(moduleOf(repeat, gauge, count({ across: 2, down: 2 }))).toEqual({
      across: { coordinating: 225, joint: 10 },
      up: { coordinating: 75, joint: 10 },
    });
    const lapped = { method: "modules", up: 9, coverSize: { height: 100 } };
    expect(moduleOf(repeat, lapped, undefined)).toEqual({ up: { coordinating: 100, joint: 0 } });
  });

  test("is still there with its joints after a fit to a surface", () => {
    const counted = countedOf({
      method: "modules",
      across: 4,
      up: 12,
      workSize: { width: 215, height: 65 },
      joint: 10,
    });
    const fitted = { method: "fitted", width: 920, height: 900, counted };
    expect(moduleOf({ width: 920, height: 900 }, fitted, undefined)).toEqual({
      across: { coordinating: 230, joint: 10 },
      up: { coordinating: 75, joint: 10 },
    });
    expect(countedOf(fitted)).toEqual(counted);
  });

  test("takes from the count what was left out, where both agree on the rest", () => {
    const boards = { method: "modules", across: 6, workSize: { width: 150 }, joint: 0 };
    const bond = { bond: "quarter", upright: true } as const;
    expect(moduleOf(repeat, boards, count({ across: 6, down: 2, ...bond }))).toEqual({
      across: { coordinating: 150, joint: 0 },
      up: { coordinating: 450, joint: 0 },
    });
    expect(moduleOf(repeat, boards, count({ across: 5, down: 2, ...bond }))).toEqual({
      across: { coordinating: 150, joint: 0 },
    });
  });

  test("of herringbone is a width of a block, and not a period", () => {
    expect(moduleOf(repeat, null, count({ across: 2, down: 3, bond: "herringbone" }))).toMatchObject({
      across: { coordinating: 112.5 },
      up: { coordinating: 75 },
    });
  });

  test("is else what was counted, or none", () => {
    expect(moduleOf(repeat, { method: "size", width: 900 }, count({ down: 6 }))).toEqual({
      up: { coordinating: 150, joint: 0 },
    });
    expect(moduleOf(repeat, null, undefined)).toEqual({});
  });
});

describe("the start of the maps", () => {
  const image = { width: 1000, height: 500 };
  const lattice = { left: 30, top: 20, width: 250, height: 100, shift: 0 };

  test("moves the first joint to the edge, and the lowest bed to the bottom", () => {
    // The lowest bed lies at 20 + 5 × 100 = 520 px, which is 20 px below the edge: up by 20.
    const { right, down } = startFor(lattice, image, repeat, { left: 0, bottom: 0 });
    expect(right).toBeCloseTo(-0.03, 10);
    expect(down).toBeCloseTo(-0.04, 10);
  });

  test("or so far from both as cut pieces want it", () => {
    const { right, down } = startFor(lattice, image, repeat, { left: 90, bottom: 45 });
    expect(right).toBeCloseTo(0.07, 10);
    expect(down).toBeCloseTo(-0.09, 10);
    expect(Math.abs(startFor(lattice, image, repeat, { left: 890, bottom: 0 }).right)).toBeLessThanOrEqual(
      0.5,
    );
  });
});
