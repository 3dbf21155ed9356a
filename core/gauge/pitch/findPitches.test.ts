import { describe, expect, test } from "@jest/globals";
import { findPitches } from "#core/gauge/pitch/findPitches";
import { cropped, sampleSet } from "#core/judge/testing";
import { cropTo, findModuleCrop } from "#core/mend/cropToModules";
import { readSeams, SEAM_LOOK, worstSeam } from "#core/judge/seams";
import { renderPattern } from "#core/pattern/patternSet";
import { tiles } from "#core/pattern/tiles";
import { seededRandom } from "#core/pattern/random";
import { lumaOf, type Plane } from "#core/raster/plane";

describe("the pitch", () => {
  test.each([
    // Six tiles over 256 px; four bricks and twelve courses in half bond: two courses until it repeats.
    ["tiles", 256 / 6, 256 / 6],
    ["brick", 256 / 4, 256 / 6],
  ])("of %s, to a tenth of a pixel, though cut anywhere", (name, across, down) => {
    const { base_color: base, height } = sampleSet(name);
    const planes = [base, height].map((map) => lumaOf(cropped(map, 13, 17, 229, 213)));
    const found = findPitches(planes);
    expect(Math.abs(found.across! - across)).toBeLessThan(0.15);
    expect(Math.abs(found.down! - down)).toBeLessThan(0.15);
  });

  test.each(["trowelled", "cast"])("of %s is not to be found", (name) => {
    const { base_color: base, height } = sampleSet(name);
    expect(findPitches([base, height].map(lumaOf))).toEqual({});
  });
});

/** A wall whose pieces are told by where they are: 1 on a joint. */
function drawn(
  width: number,
  height: number,
  jointAt: (x: number, y: number) => boolean,
  grain = 0.1,
): Plane {
  const random = seededRandom(11);
  const data = Float32Array.from({ length: width * height }, (_, i) => {
    const [x, y] = [i % width, Math.floor(i / width)];
    return (jointAt(x, y) ? 0.75 : 0.4) + grain * (random() - 0.5);
  });
  return { width, height, data };
}
const within = (at: number, pitch: number, joint: number) => ((at % pitch) + pitch) % pitch < joint;

describe("the pitch of", () => {
  // Cut off anywhere: 300 × 260 px are no whole repeats of any of these.
  test("English bond is a stretcher across, though headers are half as long, and two courses down", () => {
    const { across, down } = findPitches([
      drawn(300, 260, (x, y) => {
        const isHeader = Math.floor((y + 9) / 22) % 2 === 1;
        return within(y + 9, 22, 4) || within(x + (isHeader ? 5 : 20), isHeader ? 30 : 60, 4);
      }),
    ]);
    expect(Math.abs(across! - 60)).toBeLessThan(0.4);
    expect(Math.abs(down! - 44)).toBeLessThan(0.4);
  });

  test("third bond is three courses", () => {
    const { across, down } = findPitches([
      drawn(300, 260, (x, y) => within(y + 9, 22, 4) || within(x + 20 * Math.floor((y + 9) / 22), 60, 4)),
    ]);
    expect(Math.abs(across! - 60)).toBeLessThan(0.4);
    expect(Math.abs(down! - 66)).toBeLessThan(0.4);
  });

  test("slats is their width, and along them there is none; a bond that goes on beside is hidden", () => {
    const slats = findPitches([drawn(300, 260, (_, y) => within(y + 9, 22, 4))]);
    expect(slats.across).toBeUndefined();
    expect(slats.hidden).toBeUndefined();
    expect(Math.abs(slats.down! - 22)).toBeLessThan(0.2);
    // Not two courses of a half bond: after one of them nothing is as it was.
    const part = findPitches([
      drawn(300, 150, (x, y) => within(y + 5, 80, 4) || within(x + 30 * Math.floor((y + 5) / 80), 60, 4)),
    ]);
    expect(part).toMatchObject({ hidden: "down" });
    expect(Math.abs(part.across! - 60)).toBeLessThan(0.4);
  });

  test.each([0.2, 0.65])("a bond whose joints drown in grain of %s is hidden all the same", (grain) => {
    const worn = findPitches([
      drawn(
        330,
        150,
        (x, y) => within(y + 5, 80, 4) || within(x + 30 * Math.floor((y + 5) / 80), 60, 4),
        grain,
      ),
    ]);
    expect(worn).toMatchObject({ hidden: "down" });
  });

  test("noise, or of nothing at all, is not found", () => {
    expect(findPitches([drawn(200, 180, () => false)])).toEqual({});
    expect(findPitches([{ width: 64, height: 64, data: new Float32Array(64 * 64) }])).toEqual({});
    expect(findPitches([{ width: 300, height: 3, data: new Float32Array(900) }])).toEqual({});
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
      /Nothing in the picture repeats at a fixed distance from left to right/,
    );
  });
});
