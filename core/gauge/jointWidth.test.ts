import { describe, expect, test } from "@jest/globals";
import { jointMm, jointWidths } from "#core/gauge/jointWidth";
import { layLattice } from "#core/gauge/layLattice";
import { sampleSet } from "#core/judge/testing";
import { renderPattern } from "#core/pattern/patternSet";
import { tiles } from "#core/pattern/tiles";
import { lumaOf, transposed } from "#core/raster/plane";
import { createRaster } from "#core/raster/raster";

function tiled(joint: number, widthPx: number, light = "#6d6a65") {
  const { surface, repeat } = tiles({
    seed: joint,
    tile: { width: 300, height: 300 },
    joint,
    across: 4,
    up: 3,
    colors: ["#8c8a84", "#97948c"],
    jointColor: light,
    finish: "matt",
  });
  const heightPx = Math.round((widthPx * repeat.height) / repeat.width);
  return lumaOf(renderPattern(surface, { repeat, widthPx, heightPx }).base_color);
}

const COUNT = { across: 4, down: 3, bond: "stack" } as const;

describe("the width of joints", () => {
  test.each([
    [6, 1024],
    [10, 1024],
    [15, 512],
    [15, 1500],
  ])("of %i mm in a picture of %i px is told within a millimetre", (joint, widthPx) => {
    const plane = tiled(joint, widthPx);
    const { across, down } = jointWidths(plane, layLattice(plane, COUNT), COUNT);
    for (const found of [across!, down!]) {
      expect(Math.abs(jointMm(300, found) - joint)).toBeLessThan(1);
      expect(found.sure).toBeGreaterThan(0.9);
    }
  });

  test("is the same for light joints, and for boards that stand as for those that lie", () => {
    const plane = tiled(10, 1024, "#ffffff");
    const lying = jointWidths(plane, layLattice(plane, COUNT), COUNT);
    expect(jointMm(300, lying.across!)).toBeCloseTo(10, 0);
    const standing = transposed(plane);
    const count = { across: 3, down: 4, bond: "stack", upright: true } as const;
    const found = jointWidths(standing, layLattice(standing, count), count);
    expect(found.down!.share).toBeCloseTo(lying.across!.share, 3);
  });

  test("of brickwork is told course by course, where the bond has them", () => {
    const plane = lumaOf(sampleSet("brick").base_color);
    const count = { across: 4, down: 12, bond: "half" } as const;
    const { across, down } = jointWidths(plane, layLattice(plane, count), count);
    expect(jointMm(215, across!)).toBeCloseTo(10, -1);
    expect(Math.abs(jointMm(65, down!) - 10)).toBeLessThan(2.5);
  });

  test("is not sure where a joint is hardly a pixel wide, and not told where none stands out", () => {
    const thin = tiled(3, 512);
    const found = jointWidths(thin, layLattice(thin, COUNT), COUNT);
    expect(found.across!.sure).toBeLessThan(0.7);
    const flat = lumaOf(createRaster(200, 150, 1, 8));
    expect(jointWidths(flat, layLattice(flat, COUNT), COUNT)).toEqual({});
    expect(jointWidths(thin, layLattice(thin, COUNT), { ...COUNT, bond: "herringbone" })).toEqual({});
  });
});
