import { describe, expect, test } from "@jest/globals";
import type { Point } from "#core/gauge/repeat";
import { findModules } from "#core/gauge/findModules";
import { flatten } from "#core/photo/flatten";
import { homographyOf, HomographyError, inverted, project } from "#core/photo/homography";
import { bend, bowed, bowOf, unbowed } from "#core/photo/lens";
import { checkRegion, flatSize, flattening, RegionError, type Region } from "#core/photo/region";
import { seededRandom } from "#core/pattern/random";
import { lumaOf } from "#core/raster/plane";
import { createRaster, type Raster } from "#core/raster/raster";
import { linearToSrgb, srgbToLinear } from "#core/raster/srgb";

const PHOTO = { width: 900, height: 700 };
/** A wall of 3 × 2 m seen from the left and below. */
const CORNERS: Region["corners"] = [
  { x: 120, y: 90 },
  { x: 800, y: 170 },
  { x: 760, y: 560 },
  { x: 90, y: 640 },
];
const WALL: Region = { corners: CORNERS, width: 3000, height: 2000 };

/** Tiles of 250 × 200 mm with dark joints of 16 mm, as a photograph of the wall would show them, each pixel from 16 rays. */
function photographed(region: Region, noise = 0): Raster {
  const random = seededRandom(4);
  const out = createRaster(PHOTO.width, PHOTO.height, 3, 8);
  const toReal = inverted(flattening(region, PHOTO).homography);
  for (let y = 0; y < PHOTO.height; y++)
    for (let x = 0; x < PHOTO.width; x++) {
      let light = 0;
      for (let ray = 0; ray < 16; ray++) {
        const seen = unbowed(
          { x: x + ((ray % 4) + 0.5) / 4, y: y + ((ray >> 2) + 0.5) / 4 },
          PHOTO,
          region.bow ?? 0,
        );
        light += shadeAt(project(toReal, seen)) / 16;
      }
      const v = 255 * linearToSrgb(light) + noise * (random() + random() - 1);
      out.data.fill(
        Math.min(255, Math.max(0, Math.round(v))),
        3 * (y * PHOTO.width + x),
        3 * (y * PHOTO.width + x) + 3,
      );
    }
  return out;
}

const plain = photographed(WALL);

function shadeAt({ x, y }: Point): number {
  const joint = (v: number, pitch: number) =>
    Math.abs((((v % pitch) + pitch) % pitch) - pitch / 2) > pitch / 2 - 8;
  return joint(x, 250) || joint(y, 200) ? 0.03 : 0.5;
}

/** Places of the dark joints that run down, in mm, in one row of a flat picture. */
function jointsAlong(flat: ReturnType<typeof flatten>, row: number): number[] {
  const { raster, window } = flat;
  const plane = lumaOf(raster);
  const mm = window.width / raster.width;
  const found: number[] = [];
  let [sum, weight] = [0, 0];
  for (let x = 0; x <= raster.width; x++) {
    const dark = x < raster.width ? 0.6 - plane.data[row * raster.width + x] : -1;
    if (dark > 0) {
      sum += (x + 0.5) * dark;
      weight += dark;
    } else if (weight > 0) {
      found.push(window.x + (sum / weight) * mm);
      [sum, weight] = [0, 0];
    }
  }
  return found;
}

describe("projections", () => {
  test("of four pairs are exact, and back again", () => {
    const real = [
      { x: 0, y: 0 },
      { x: 3000, y: 0 },
      { x: 3000, y: 2000 },
      { x: 0, y: 2000 },
    ];
    const h = homographyOf(real, CORNERS);
    real.forEach((point, i) => {
      expect(project(h, point).x).toBeCloseTo(CORNERS[i].x, 6);
      expect(project(h, point).y).toBeCloseTo(CORNERS[i].y, 6);
      expect(project(inverted(h), CORNERS[i]).x).toBeCloseTo(point.x, 4);
    });
  });

  test("of many noisy pairs come nearer to the truth than four of them do", () => {
    const random = seededRandom(9);
    const truth = flattening(WALL, PHOTO).homography;
    const real = Array.from({ length: 40 }, () => ({ x: 3000 * random(), y: 2000 * random() }));
    const seen = real
      .map((point) => project(truth, point))
      .map(({ x, y }) => ({ x: x + 2 * random() - 1, y: y + 2 * random() - 1 }));
    const error = (h: ReturnType<typeof homographyOf>) =>
      Math.max(
        ...CORNERS.map((corner, i) => {
          const put = project(
            h,
            [
              { x: 0, y: 0 },
              { x: 3000, y: 0 },
              { x: 3000, y: 2000 },
              { x: 0, y: 2000 },
            ][i],
          );
          return Math.hypot(put.x - corner.x, put.y - corner.y);
        }),
      );
    expect(error(homographyOf(real, seen))).toBeLessThan(1.5);
    expect(error(homographyOf(real, seen))).toBeLessThan(
      error(homographyOf(real.slice(0, 4), seen.slice(0, 4))),
    );
  });

  test("need four pairs of which no three lie on a line", () => {
    const line = [0, 1, 2].map((x) => ({ x, y: x }));
    expect(() => homographyOf(line, line)).toThrow(HomographyError);
    expect(() => homographyOf([...line, { x: 5, y: 0 }], CORNERS)).toThrow(/one line/);
    const same = Array.from({ length: 4 }, () => ({ x: 1, y: 1 }));
    expect(() => homographyOf(same, CORNERS)).toThrow(HomographyError);
  });
});

describe("the bow of a lens", () => {
  test.each([-0.25, -0.1, 0.05, 0.3])("of %d is taken out again", (k) => {
    for (const point of [
      { x: 10, y: 20 },
      { x: 450, y: 350 },
      { x: 880, y: 600 },
    ]) {
      const back = unbowed(bowed(point, PHOTO, k), PHOTO, k);
      expect(back.x).toBeCloseTo(point.x, 4);
      expect(back.y).toBeCloseTo(point.y, 4);
    }
  });

  test("is found from what is known to be straight", () => {
    const straight = ([a, b]: [Point, Point]) =>
      [a, { x: 0.4 * a.x + 0.6 * b.x, y: 0.4 * a.y + 0.6 * b.y }, b].map((p) => bowed(p, PHOTO, -0.12)) as [
        Point,
        Point,
        Point,
      ];
    const lines = [
      straight([
        { x: 60, y: 60 },
        { x: 850, y: 50 },
      ]),
      straight([
        { x: 40, y: 100 },
        { x: 50, y: 650 },
      ]),
    ];
    expect(Math.abs(bend(lines[0], PHOTO, 0))).toBeGreaterThan(5);
    const k = bowOf(lines, PHOTO);
    expect(k).toBeCloseTo(-0.12, 4);
    expect(Math.abs(bend(lines[0], PHOTO, k))).toBeLessThan(0.01);
  });
});

describe("a region", () => {
  const with_ = (corners: Point[]) => ({ ...WALL, corners: corners as Region["corners"] });
  const [a, b, c, d] = CORNERS;
  test.each<[string, Region, string]>([
    ["mirrored", with_([b, a, d, c]), "mirrored"],
    ["crossing", with_([a, c, b, d]), "cross"],
    ["a dart", with_([a, b, { x: 300, y: 250 }, d]), "inside the other three"],
    ["on a line", with_([a, b, { x: 2 * b.x - a.x - 300, y: 2 * b.y - a.y - 35 }, d]), "one line"],
    ["all the same", with_([a, a, a, a]), "one line"],
    ["far outside", with_([{ x: -5000, y: 0 }, b, c, d]), "half a picture outside"],
    ["without a size", { ...WALL, width: 0 }, "no real width"],
    ["with too much bow", { ...WALL, bow: 2 }, "bow"],
    ["4 px high on one side", with_([a, b, { x: b.x, y: b.y + 4 }, d]), "4.0 px long"],
    [
      "3 px",
      with_([a, { x: a.x + 3, y: a.y }, { x: a.x + 3, y: a.y + 3 }, { x: a.x, y: a.y + 3 }]),
      "3.0 px long",
    ],
    ["not a number", with_([{ x: NaN, y: 0 }, b, c, d]), "outside"],
  ])("that is %s is refused in words", (_, region, words) => {
    expect(() => checkRegion(region, PHOTO)).toThrow(RegionError);
    expect(() => checkRegion(region, PHOTO)).toThrow(words);
  });

  test("whose control points agree has no residual, and one that does not shows it", () => {
    const { homography } = flattening(WALL, PHOTO);
    const real = { x: 1500, y: 1000 };
    const at = project(homography, real);
    expect(flattening({ ...WALL, control: [{ at, real }] }, PHOTO).residuals[0]).toBeLessThan(0.01);
    const off = flattening({ ...WALL, control: [{ at: { x: at.x + 8, y: at.y }, real }] }, PHOTO);
    expect(off.residuals[0]).toBeGreaterThan(5);
  });

  test("gets as many pixels as its densest edge has, or a part of them for a backdrop", () => {
    const full = flatSize(WALL, PHOTO, "full");
    expect(full.width / full.height).toBeCloseTo(1.5, 2);
    // The left edge is 551 px for 2 m, the upper one 685 px for 3 m.
    expect(full.height).toBe(551);
    expect(flatSize(WALL, PHOTO, "rough").height).toBe(138);
  });
});

describe("a flattened photograph", () => {
  test.each([
    ["without a bow", 0],
    ["with the bow of a wide lens", -0.08],
  ])(
    "%s has its repeat within half a percent and straight lines, though each corner is off by a pixel",
    (_, bow) => {
      const truth: Region = { ...WALL, bow };
      const photo = photographed(truth, 12);
      const shifts = [
        [1, 0],
        [0, -1],
        [-0.7, 0.7],
        [0, 1],
      ];
      const corners = truth.corners.map(({ x, y }, i) => ({ x: x + shifts[i][0], y: y + shifts[i][1] }));
      const flat = flatten(photo, { ...truth, corners: corners as Region["corners"] }, "full");
      const px = flat.window.width / flat.raster.width;
      const rows = [0.1, 0.3, 0.5, 0.7, 0.95].map((at) => Math.round((at + 0.05 / 2) * flat.raster.height));
      // Rows in the middle of tiles: the joints that run down are counted and measured.
      const inTiles = rows.map((row) => {
        const y = flat.window.y + row * (flat.window.height / flat.raster.height);
        return Math.round(
          (Math.floor(y / 200) * 200 + 100 - flat.window.y) / (flat.window.height / flat.raster.height),
        );
      });
      const joints = inTiles.map((row) => jointsAlong(flat, row).filter((at) => at > 100 && at < 2900));
      for (const places of joints) {
        expect(places).toHaveLength(11);
        const pitch = (places[10] - places[0]) / 10;
        expect(Math.abs(pitch / 250 - 1)).toBeLessThan(0.005);
      }
      // Each joint is one straight line through all rows.
      for (let k = 0; k < 11; k++) {
        const first = { y: inTiles[0], x: joints[0][k] / px };
        const last = { y: inTiles[4], x: joints[4][k] / px };
        joints.slice(1, 4).forEach((places, i) => {
          const on = first.x + ((last.x - first.x) * (inTiles[i + 1] - first.y)) / (last.y - first.y);
          expect(Math.abs(places[k] / px - on)).toBeLessThan(0.7);
        });
      }
    },
  );

  test("holds the modules that the wall has", () => {
    const flat = flatten(plain, WALL, "full");
    expect(findModules([lumaOf(flat.raster)])).toMatchObject({ across: 12, down: 10 });
  });

  test("is cut off where the photograph ends", () => {
    const beyond: Region = {
      ...WALL,
      corners: CORNERS.map(({ x, y }) => ({ x: x + 200, y })) as Region["corners"],
    };
    const { window, raster } = flatten(plain, beyond, "half");
    expect(window.x).toBe(0);
    expect(window.width).toBeLessThan(2900);
    expect(window.width).toBeGreaterThan(2000);
    expect(raster.width / window.width).toBeCloseTo(raster.height / window.height, 3);
  });

  test("averages light, and not codes, where it is reduced", () => {
    const checks = createRaster(400, 400, 3, 8);
    for (let i = 0; i < 160_000; i++)
      checks.data.fill((i + Math.floor(i / 400)) % 2 ? 255 : 0, 3 * i, 3 * i + 3);
    const corners: Region["corners"] = [
      { x: 0, y: 0 },
      { x: 400, y: 0 },
      { x: 400, y: 400 },
      { x: 0, y: 400 },
    ];
    const { raster } = flatten(checks, { corners, width: 100, height: 100 }, "rough");
    expect(raster.width).toBe(100);
    expect(srgbToLinear(raster.data[3 * 5050] / 255)).toBeCloseTo(0.5, 1);
  });

  test("has painted out what stands in front, from beside it or from another material", () => {
    const photo = { ...plain, data: plain.data.slice() };
    // A post of 200 mm before the wall.
    const { toPhoto } = flattening(WALL, PHOTO);
    for (let y = 0; y < 2000; y += 1.5)
      for (let x = 1020; x < 1220; x += 1.5) {
        const at = toPhoto({ x, y });
        photo.data.fill(
          0,
          3 * (Math.floor(at.y) * 900 + Math.floor(at.x)),
          3 * (Math.floor(at.y) * 900 + Math.floor(at.x)) + 3,
        );
      }
    const patch = { x: 980, y: -200, width: 290, height: 2400, shift: { x: 500, y: 0 } };
    const mean = (flat: ReturnType<typeof flatten>) => {
      const { raster, window } = flat;
      const scale = raster.width / window.width;
      const values: number[] = [];
      for (let y = 0; y < raster.height; y += 3)
        for (let x = 1060; x < 1180; x += 10)
          values.push(raster.data[3 * (y * raster.width + Math.round((x - window.x) * scale))]);
      return values.reduce((a, b) => a + b, 0) / values.length;
    };
    expect(mean(flatten(photo, WALL, "half"))).toBeLessThan(60);
    const clean = mean(flatten(plain, WALL, "half"));
    expect(Math.abs(mean(flatten(photo, WALL, "half", [patch])) - clean)).toBeLessThan(12);
    const grey = createRaster(8, 8, 3, 8);
    grey.data.fill(77);
    const fill = { raster: grey, repeat: { width: 100, height: 100 } };
    expect(mean(flatten(photo, WALL, "half", [{ ...patch, fill }]))).toBeCloseTo(77, 0);
  });
});
