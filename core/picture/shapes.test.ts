import { describe, expect, test } from "@jest/globals";
import { finishSchema, type Finish } from "#core/finish/finish";
import { CONDITIONS, type Condition } from "#core/picture/condition";
import { detailLevel } from "#core/picture/detail";
import { environmentOf, lightGridsOf } from "#core/picture/environment";
import { FIGURE_MM, isInFigure } from "#core/picture/figure";
import { panoramaBytes, panoramaFrom, panoramaOfBytes, panoramaTrouble } from "#core/picture/panorama";
import { makePicture } from "#core/picture/picture";
import type { DrawnMaterial } from "#core/picture/surfaceReader";
import { WALL_HEIGHT_MM, wallIn } from "#core/picture/wall";
import { WALL_SHARE, type View } from "#core/picture/view";
import { createRaster, type Raster } from "#core/raster/raster";
import { srgbToLinear } from "#core/raster/srgb";
import { textureOf } from "#core/raster/texture";

/** A board of squares: 100 mm light, 100 mm dark. */
function squares(finish: Partial<Finish> = {}): DrawnMaterial {
  const raster = createRaster(2, 2, 3, 8);
  raster.data.set([230, 230, 230, 60, 60, 60, 60, 60, 60, 230, 230, 230]);
  const enlarged = createRaster(64, 64, 3, 8);
  for (let i = 0; i < 64 * 64; i++) {
    const from = (Math.floor(i / 64 / 32) * 2 + Math.floor((i % 64) / 32)) * 3;
    enlarged.data.set(raster.data.subarray(from, from + 3), i * 3);
  }
  return {
    textures: { base_color: textureOf(enlarged, { holds: "color", wraps: true }) },
    finish: finishSchema.parse({ roughness: 1, specularWeight: 0, ...finish }),
    repeat: { width: 200, height: 200 },
    heightMm: 0,
  };
}
const plain = (finish: Partial<Finish>): DrawnMaterial => ({ ...squares(finish), textures: {} });

const VIEW: View = {
  shape: "wall",
  width: 400,
  height: 240,
  mmPerPx: 4000 / (WALL_SHARE * 400),
  centre: { x: 0, y: 0 },
  cards: false,
};
const at = ({ data, width }: Raster, x: number, y: number) =>
  srgbToLinear(data[(Math.round(y) * width + Math.round(x)) * 3 + 1] / 255);
const changes = (values: number[], middle: number) =>
  values.filter((value, i) => i > 0 && value > middle !== values[i - 1] > middle).length;

describe("a wall", () => {
  const picture = makePicture(squares(), VIEW, { ...CONDITIONS.studio, lampShare: 0 });

  test("of 4 m shows forty squares of 100 mm, and begins with a whole one", () => {
    const row = Array.from({ length: 400 }, (_, x) => at(picture, x, 60));
    // Two edges more: the backdrop is darker than the middle, as a dark square is.
    expect(Math.abs(changes(row, 0.3) - 40)).toBeLessThanOrEqual(2);
    const left = 200 - (WALL_SHARE * 400) / 2;
    expect(at(picture, left + 3, 60)).not.toBeCloseTo(at(picture, left + 3 + 8.4, 60), 1);
  });

  test("has a figure of 1.7 m before it, to the wall's scale", () => {
    const dark = (x: number) =>
      Array.from({ length: 240 }, (_, y) => y).filter((y) => at(picture, x, y) < 0.03).length;
    const most = Math.max(...Array.from({ length: 400 }, (_, x) => dark(x)));
    // It stands nearer than the wall: somewhat larger.
    expect((most * VIEW.mmPerPx) / FIGURE_MM).toBeGreaterThan(0.99);
    expect((most * VIEW.mmPerPx) / FIGURE_MM).toBeLessThan(1.15);
  });

  test("keeps its light while the eye is turned about it, and what is glossy changes", () => {
    const mean = (finish: Partial<Finish>, right: number) => {
      const shown = makePicture(plain(finish), { ...VIEW, turn: { right, down: 0 } }, CONDITIONS["low-sun"]);
      return at(shown, 200, 110);
    };
    const matt = { color: "#909090", roughness: 1, specularWeight: 0 };
    expect(mean(matt, 50)).toBeCloseTo(mean(matt, 0), 2);
    const glossy = { color: "#c0c0c0", metalness: 1, roughness: 0.2, specularWeight: 1 };
    expect(Math.abs(mean(glossy, 60) - mean(glossy, 0))).toBeGreaterThan(0.05);
  });

  test("is never seen from behind or from below the floor, however far somebody turns", () => {
    for (const right of [-400, -90, 90, 400])
      for (const down of [-400, 90, 400]) {
        const { eyeAt } = wallIn({ ...VIEW, turn: { right, down } });
        expect(eyeAt[2]).toBeGreaterThan(0);
        expect(eyeAt[1]).toBeGreaterThan(-WALL_HEIGHT_MM / 2);
      }
  });
});

test("a figure is as wide at its shoulders as on both sides of its axis, and no wider than its arms", () => {
  expect(isInFigure(0, 1000)).toBe(true);
  expect(isInFigure(0, FIGURE_MM - 1)).toBe(true);
  expect(isInFigure(0, FIGURE_MM + 1)).toBe(false);
  expect(isInFigure(0, 300)).toBe(false);
  expect(isInFigure(100, 300)).toBe(true);
  expect(isInFigure(-100, 300)).toBe(true);
  expect(isInFigure(300, 1000)).toBe(false);
});

describe("a sheet", () => {
  test("that is bent as a leaf is one repeat, and each side of it is lit by its own slope", () => {
    const view: View = { ...VIEW, shape: "leaf", mmPerPx: 1, centre: { x: 100, y: 100 } };
    const side = { ...CONDITIONS.studio, lampShare: 1, lampAround: 0, lampAbove: 35 };
    const picture = makePicture(plain({ color: "#c0c0c0" }), view, side);
    expect(at(picture, 200 + 60, 120)).toBeGreaterThan(2 * at(picture, 200 - 60, 120));
    // Above and beside the sheet the ground is seen, which has two greys.
    const beside = new Set([10, 60, 110, 160].map((y) => at(picture, 20, y).toFixed(2)));
    expect(beside.size).toBe(2);
    expect(at(picture, 200, 15)).toBeLessThan(0.45);
  });

  test("that lets light through brightens with the light behind it, and its cut-outs show the ground as it is beside it", () => {
    const opacity = createRaster(1, 1, 1, 8);
    const hole: DrawnMaterial = {
      ...plain({ opacityMode: "cut-out" }),
      textures: { geometry_opacity: textureOf(opacity, { holds: "data", wraps: true }) },
    };
    const view: View = { ...VIEW, shape: "leaf", mmPerPx: 1, centre: { x: 100, y: 100 } };
    const picture = makePicture(hole, view, CONDITIONS.behind);
    const nothing = makePicture(plain({ transmissionWeight: 0 }), { ...view, width: 400 }, CONDITIONS.behind);
    for (const [x, y] of [
      [20, 20],
      [390, 230],
    ])
      expect(at(picture, x, y)).toBe(at(nothing, x, y));
    const greys = new Set(Array.from({ length: 400 }, (_, x) => at(picture, x, 120).toFixed(3)));
    expect(greys.size).toBe(2);
  });

  test("that stands as a pane mirrors what lies beside it, and lets the ground through", () => {
    const view: View = { ...VIEW, shape: "pane", mmPerPx: 2 };
    const glass = { color: "#ffffff", roughness: 0, transmissionWeight: 1, thinWalled: true };
    const greys = (finish: Partial<Finish>) => {
      const picture = makePicture(plain(finish), view, { ...CONDITIONS.studio, lampShare: 0 });
      return Array.from({ length: 200 }, (_, x) => at(picture, 100 + x, 120));
    };
    const through = greys(glass);
    expect(Math.max(...through) - Math.min(...through)).toBeGreaterThan(0.15);
    const mirrored = greys({ color: "#000000", roughness: 0, specularWeight: 1 });
    expect(Math.min(...mirrored)).toBeGreaterThan(0.004);
  });

  test("and that is frosted shows the squares behind it soft, with the same light in all", () => {
    const view: View = { ...VIEW, shape: "panel", mmPerPx: 1, centre: { x: 0, y: 0 } };
    const shown = (roughness: number) => {
      const glass = {
        color: "#ffffff",
        specularWeight: 0,
        roughness,
        transmissionWeight: 1,
        thinWalled: true,
      };
      const picture = makePicture(plain(glass), view, CONDITIONS.studio);
      const row = Array.from({ length: 200 }, (_, x) => at(picture, 100 + x, 145));
      return { row, mean: row.reduce((sum, value) => sum + value, 0) / row.length };
    };
    const [clear, frosted, ground] = [shown(0), shown(0.5), shown(0.75)];
    expect(new Set(clear.row.map((value) => value.toFixed(3))).size).toBe(2);
    // 18 mm of blur to both sides of an edge: the middles of squares of 50 mm keep their grey.
    expect(Math.max(...frosted.row)).toBeCloseTo(Math.max(...clear.row), 2);
    expect(new Set(frosted.row.map((value) => value.toFixed(3))).size).toBeGreaterThan(20);
    expect(Math.max(...ground.row) - Math.min(...ground.row)).toBeLessThan(0.2);
    expect(Math.abs(frosted.mean - clear.mean)).toBeLessThan(0.005);
  });
});

test("a ground of one grey is seen through glass and beside it, and a wall keeps its own", () => {
  const view: View = { ...VIEW, shape: "pane", mmPerPx: 2 };
  const glass = { color: "#ffffff", roughness: 0, transmissionWeight: 1, thinWalled: true };
  const shown = (ground: Condition["ground"], shape: View["shape"] = "pane") =>
    makePicture(plain(glass), { ...view, shape }, { ...CONDITIONS.studio, ground });
  const [white, black] = [shown("white"), shown("black")];
  expect(at(white, 5, 5)).toBe(1);
  expect(at(black, 5, 5)).toBeCloseTo(0.02, 2);
  expect(at(white, 200, 120)).toBeGreaterThan(at(black, 200, 120) + 0.5);
  const row = Array.from({ length: 100 }, (_, x) => at(white, 150 + x, 120));
  expect(Math.max(...row) - Math.min(...row)).toBeLessThan(0.1);
  expect(shown("white", "wall").data.subarray(0, 30)).toEqual(shown("black", "wall").data.subarray(0, 30));
});

test("a block shows another side when it is turned, under the same light", () => {
  const view: View = { ...VIEW, shape: "block", width: 200, height: 120, mmPerPx: 8, centre: { x: 0, y: 0 } };
  const shown = (right: number, down: number) =>
    makePicture(squares(), { ...view, turn: { right, down } }, CONDITIONS.studio);
  const [still, same, turned] = [makePicture(squares(), view, CONDITIONS.studio), shown(0, 0), shown(40, 20)];
  expect(same.data).toEqual(still.data);
  const differing = ({ data }: Raster) =>
    [...data].filter((value, i) => Math.abs(value - still.data[i]) > 8).length;
  expect(differing(turned)).toBeGreaterThan(1500);
  expect(differing(shown(360, 0))).toBeLessThan(60);
});

describe("a panorama", () => {
  const light = (width: number, height: number, of: (x: number, y: number) => number) => ({
    width,
    height,
    channels: 1 as const,
    data: Float32Array.from({ length: width * height }, (_, i) => of(i % width, Math.floor(i / width))),
  });

  test("keeps its light when it is read smaller, drops what is no number, and comes back from its bytes", () => {
    const broken = light(512, 256, (x) => (x < 2 ? NaN : x < 4 ? -7 : x < 6 ? Infinity : 3));
    const panorama = panoramaFrom(broken);
    expect([...panorama.data.subarray(0, 3)]).toEqual([0, 0, 0]);
    expect(panorama.data[3]).toBe(0);
    expect(panorama.data[6]).toBe(65504);
    expect(panorama.data[30]).toBe(3);
    const bytes = panoramaBytes(panorama).slice();
    expect(panoramaOfBytes(bytes.buffer)).toEqual(panorama);
    expect(() => panoramaOfBytes(new ArrayBuffer(12))).toThrow(RangeError);
  });

  test("smaller than what is read, too; of another shape it is refused with its size", () => {
    expect(panoramaFrom(light(16, 8, () => 0.5)).data.every((value) => value === 0.5)).toBe(true);
    expect(panoramaTrouble({ width: 48, height: 48 })).toContain("48 × 48 px");
    expect(() => panoramaFrom(light(48, 48, () => 1))).toThrow(/twice as wide/);
  });

  test("lights what faces it: its middle is ahead of the eye, and behind what is looked at", () => {
    const ahead = panoramaFrom(light(64, 32, (x) => (x >= 28 && x < 36 ? 10 : 0)));
    const right = panoramaFrom(light(64, 32, (x) => (x >= 44 && x < 52 ? 10 : 0)));
    const sha = "0".repeat(64);
    const facing = (panorama: typeof ahead, turn: number, normal: [number, number, number]) =>
      environmentOf(sha, turn, panorama).irradiance(normal)[0];
    expect(facing(ahead, 0, [0, 0, -1])).toBeGreaterThan(5 * facing(ahead, 0, [0, 0, 1]));
    expect(facing(right, 0, [1, 0, 0])).toBeGreaterThan(5 * facing(right, 0, [-1, 0, 0]));
    // A quarter of a turn brings what was ahead to the right.
    expect(facing(ahead, 90, [1, 0, 0])).toBeGreaterThan(5 * facing(ahead, 90, [-1, 0, 0]));
    expect(() => lightGridsOf(sha)).toThrow(RangeError);
  });
});

test("a map is halved until its pixels are about those of the picture, and never enlarged", () => {
  const map = { width: 1024, height: 512 };
  const size = { width: 1024, height: 512 };
  expect([0.1, 1, 1.3, 1.5, 2, 4, 64].map((mm) => detailLevel(map, size, mm))).toEqual([0, 0, 0, 1, 1, 2, 6]);
  // By its denser direction.
  expect(detailLevel(map, { width: 1024, height: 1024 }, 2)).toBe(1);
});
