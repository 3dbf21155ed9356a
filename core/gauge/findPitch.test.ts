import { describe, expect, test } from "@jest/globals";
import { findPitch } from "#core/gauge/findPitch";
import { cropped, sampleSet } from "#core/judge/testing";
import { cropTo, findModuleCrop } from "#core/mend/cropToModules";
import { readSeams, SEAM_LOOK, worstSeam } from "#core/judge/seams";
import { renderPattern } from "#core/pattern/patternSet";
import { tiles } from "#core/pattern/tiles";
import { lumaOf } from "#core/raster/plane";

describe("the pitch", () => {
  test.each([
    // Six tiles over 256 px; four bricks and twelve courses in half bond: two courses until it repeats.
    ["tiles", 256 / 6, 256 / 6],
    ["brick", 256 / 4, 256 / 6],
  ])("of %s, to a tenth of a pixel, though cut anywhere", (name, across, down) => {
    const { base_color: base, height } = sampleSet(name);
    const planes = [base, height].map((map) => lumaOf(cropped(map, 13, 17, 229, 213)));
    expect(Math.abs(findPitch(planes, "across")!.pixels - across)).toBeLessThan(0.15);
    expect(Math.abs(findPitch(planes, "down")!.pixels - down)).toBeLessThan(0.15);
  });

  test.each(["trowelled", "cast"])("of %s is not to be found", (name) => {
    const { base_color: base, height } = sampleSet(name);
    expect(findPitch([base, height].map(lumaOf), "across")).toBeUndefined();
  });
});

describe("cropping to whole modules", () => {
  // Four by four tiles of 140 mm with joints of 10 mm, 60 px each.
  const wide = tiles({
    seed: 9,
    tile: { width: 140, height: 140 },
    joint: 10,
    across: 4,
    up: 4,
    colors: ["#8c5a3c", "#6a7f86", "#b9a67c"],
    jointColor: "#d8d4c8",
    finish: "matt",
  });
  const set = renderPattern(wide.surface, { repeat: wide.repeat, widthPx: 240, heightPx: 240 });

  test("cuts in the joints, leaves whole modules, and all maps alike", () => {
    const maps = [set.base_color, set.height].map((map) => cropped(map, 40, 42, 200, 198));
    const crop = findModuleCrop(maps, { across: true, down: true });
    expect([crop.across!.modules, crop.down!.modules]).toEqual([3, 3]);
    expect([crop.width, crop.height]).toEqual([180, 180]);
    // A joint's middle lies on the edge of the drawing, and so at 20 and 18 px of the part.
    expect(Math.abs(crop.left - 20)).toBeLessThanOrEqual(3);
    expect(Math.abs(crop.top - 18)).toBeLessThanOrEqual(3);
    const left = maps.map((map) => cropTo(map, crop));
    expect(worstSeam(readSeams(left[0], "color")).broken).toBeLessThan(SEAM_LOOK);
    expect(left.map(({ width, height }) => [width, height])).toEqual(Array(2).fill([180, 180]));
    // The crop is a part of the picture, to the last bit.
    const at = ((crop.top + 3) * 200 + crop.left + 5) * 3;
    expect([...left[0].data.slice((3 * 180 + 5) * 3, (3 * 180 + 6) * 3)]).toEqual([
      ...maps[0].data.slice(at, at + 3),
    ]);
  });

  test("leaves alone what is whole, and the direction that was not asked for", () => {
    expect(findModuleCrop([set.base_color], { across: true, down: true })).toMatchObject({
      width: 240,
      height: 240,
    });
    const part = cropped(set.base_color, 13, 17, 222, 205);
    expect(findModuleCrop([part], { across: true, down: false })).toMatchObject({ width: 180, height: 205 });
  });

  test("of what has no pitch is refused in words", () => {
    expect(() => findModuleCrop([sampleSet("trowelled").base_color], { across: true, down: true })).toThrow(
      /No pitch was found from left to right/,
    );
  });
});
