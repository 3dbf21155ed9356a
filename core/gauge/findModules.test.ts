import { describe, expect, test } from "@jest/globals";
import { countTogether } from "#core/gauge/countTogether";
import { findModules, SURE } from "#core/gauge/findModules";
import { layLattice } from "#core/gauge/layLattice";
import { sampleSet } from "#core/judge/testing";
import { brick } from "#core/pattern/brick";
import { SAMPLES } from "#core/pattern/samples";
import { hexagons, herringbone } from "#core/pattern/paving";
import { renderPattern, type Surface } from "#core/pattern/patternSet";
import { lumaOf, type Plane } from "#core/raster/plane";
import { rows } from "#core/gauge/testing";

type Made = { surface: Surface; repeat: { width: number; height: number } };

function drawn({ surface, repeat }: Made, pixels: number): Plane {
  const scale = pixels / Math.max(repeat.width, repeat.height);
  const size = { widthPx: Math.round(repeat.width * scale), heightPx: Math.round(repeat.height * scale) };
  return lumaOf(renderPattern(surface, { repeat, ...size }).base_color);
}

const stone = { seed: 3, joint: 5, colors: ["#9c4a34", "#87402f"], jointColor: "#d8d4c8" };

describe("modules of a seamless picture", () => {
  test.each([
    ["brick", { across: 4, down: 12, bond: "half" }],
    ["tiles", { across: 6, down: 6, bond: "stack" }],
  ])("of %s", (name, truth) => {
    const found = findModules([drawn(SAMPLES[name], 512)]);
    expect(found).toMatchObject(truth);
    expect(found.sure).toBeGreaterThan(SURE);
  });

  test.each([
    ["half", 1 / 2, 2],
    ["third", 1 / 3, 3],
  ] as const)("of boards that stand in %s bond: columns are shifted", (bond, shift, steps) => {
    const size = { brick: { width: 200, height: 60 }, joint: 8, across: 3, courses: 2 * steps };
    const look = { seed: 5, colors: ["#9c4a34", "#87402f"], mortar: "#d8d4c8", recess: 4, roughness: 0.5 };
    const lying = drawn(brick({ ...size, ...look, bond: shift }), 400);
    const standing = {
      width: lying.height,
      height: lying.width,
      data: Float32Array.from(lying.data, (_, i) => {
        const [x, y] = [i % lying.height, Math.floor(i / lying.height)];
        return lying.data[x * lying.width + y];
      }),
    };
    expect(findModules([lying])).toMatchObject({ across: 3, down: 2 * steps, bond });
    const count = findModules([standing]);
    expect(count).toMatchObject({ across: 2 * steps, down: 3, bond, upright: true });
    const lattice = layLattice(standing, count);
    expect(lattice).toMatchObject({ upright: true });
    expect(lattice.height).toBeCloseTo(standing.height / 3, 6);
  });

  test("herringbone along the edges and at 45°, and hexagons", () => {
    const blocks = { ...stone, width: 90, across: 2, down: 2 };
    expect(findModules([drawn(herringbone({ ...blocks, turned: false }), 400)])).toMatchObject({
      across: 2,
      down: 2,
      bond: "herringbone",
    });
    expect(findModules([drawn(herringbone({ ...blocks, turned: true, across: 4 }), 400)])).toMatchObject({
      across: 4,
      down: 2,
      bond: "herringbone45",
    });
    expect(findModules([drawn(hexagons({ ...stone, width: 150, across: 4, rows: 6 }), 400)])).toMatchObject({
      across: 4,
      down: 6,
      bond: "half",
    });
  });

  test("boards of random length have rows only", () => {
    const { height } = sampleSet("planks");
    const found = findModules([lumaOf(height)]);
    expect(found.down).toBe(6);
    expect([undefined, 1]).toContain(found.across);
  });

  test.each(["trowelled", "cast", "scraped"])("of %s: none, or not sure", (name) => {
    const found = findModules([lumaOf(sampleSet(name).base_color)]);
    expect(found.across === undefined || found.sure < SURE).toBe(true);
  });

  test("of a picture of one colour: none", () => {
    const found = findModules([{ width: 64, height: 64, data: new Float32Array(4096).fill(0.5) }]);
    expect([found.across, found.down]).toEqual([undefined, undefined]);
    expect(found.sure).toBeGreaterThan(SURE);
  });
});

describe("a picture and its height", () => {
  const wall = sampleSet("brick");

  test("that agree are counted together", () => {
    expect(countTogether(lumaOf(wall.base_color), lumaOf(wall.height))).toMatchObject({
      count: { across: 4, down: 12, bond: "half" },
    });
    expect(countTogether(lumaOf(wall.base_color), undefined).heightCount).toBeUndefined();
  });

  test("of another pattern are told apart, and the picture counts", () => {
    const { count, heightCount } = countTogether(lumaOf(wall.base_color), rows(0.02));
    expect(count).toMatchObject({ across: 4, down: 12 });
    expect(heightCount).toEqual(expect.objectContaining({ down: 8 }));
    expect(heightCount!.across).toBeUndefined();
  });

  test("that are not sure of different numbers are no third one", () => {
    // At 256 px every third joint of the tiles lies between two pixels.
    const tiles = lumaOf(sampleSet("tiles").base_color);
    const { count, heightCount } = countTogether(tiles, lumaOf(wall.height));
    expect(heightCount).toBeUndefined();
    expect([findModules([tiles]), findModules([lumaOf(wall.height)])]).toContainEqual(
      expect.objectContaining({ across: count.across, down: count.down }),
    );
  });
});

test("the lattice lies on the joints", () => {
  const plane = lumaOf(sampleSet("brick").height);
  const lattice = layLattice(plane, { across: 4, down: 12, bond: "half" });
  expect(lattice).toMatchObject({ width: 64, shift: 1 / 2 });
  // Beds lie half a joint from the drawing's edge, and a course is 21.3 px high.
  const off = (at: number, pitch: number) => Math.min(at % pitch, pitch - (at % pitch));
  expect(off(lattice.top, lattice.height)).toBeLessThan(2.5);
  expect(off(lattice.left, lattice.width)).toBeLessThan(4);
});
