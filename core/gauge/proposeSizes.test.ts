import { describe, expect, test } from "@jest/globals";
import type { ModuleCount } from "#core/gauge/findModules";
import { FORMATS } from "#core/gauge/formats";
import { gaugeRepeat } from "#core/gauge/repeat";
import { kindsOf, proposeSizes, type SizeEvidence } from "#core/gauge/proposeSizes";

/** Three stretchers and eight courses of 225 × 75 mm in true proportions. */
const WALL = { width: 1350, height: 1200 };
const WALL_COUNT: ModuleCount = { across: 3, down: 8, bond: "half", sure: 0.97 };

const propose = (evidence: Partial<SizeEvidence> = {}) =>
  proposeSizes({
    ...{ image: WALL, count: WALL_COUNT, family: "brick", words: [], used: [], formats: FORMATS },
    ...evidence,
  });

describe("sizes that are proposed", () => {
  test("formats of its kind with the counted proportions, none of which is sure", () => {
    const found = propose();
    expect(found.map(({ repeat }) => [repeat.width, repeat.height])).toContainEqual([675, 600]);
    expect(found.map(({ reason }) => "name" in reason && reason.name)).toContain("Germany NF");
    expect(found.some(({ isSure }) => isSure)).toBe(false);
    expect(found.every(({ stretchPercent }) => Math.abs(stretchPercent) <= 3)).toBe(true);
  });

  test("a size in its name is taken before all, with the joint of the format that it is", () => {
    const [first] = propose({ words: ["Mill red 215x65"] });
    expect(first).toMatchObject({
      reason: { by: "words", text: "215x65" },
      isSure: true,
      method: { method: "modules", across: 3, up: 8, joint: 10 },
    });
    expect(first.repeat).toEqual({ width: 675, height: 600 });
  });

  test("of three numbers of a brick the last is its height; of a paver it is its thickness", () => {
    expect(propose({ words: ["215 x 102.5 x 65"] })[0].repeat).toEqual({ width: 675, height: 600 });
    const paver = propose({
      image: { width: 2030, height: 1030 },
      count: { across: 5, down: 5, bond: "half", sure: 0.95 },
      ...{ family: "ground", words: ["200x100x60"] },
    });
    expect(paver[0].repeat).toEqual({ width: 1015, height: 515 });
    expect(paver[0].isSure).toBe(true);
  });

  test("a face without a joint is proposed with the usual one of its kind, and without any", () => {
    const slab = propose({
      ...{ image: { width: 1809, height: 1612 }, family: "stone", words: ["slabs 600x400 paving"] },
      count: { across: 3, down: 4, bond: "stack", sure: 0.99 },
    });
    expect(
      slab
        .slice(0, 2)
        .map(({ repeat }) => repeat.width)
        .sort(),
    ).toEqual([1800, 1809]);
    expect(slab.some(({ isSure }) => isSure)).toBe(false);
  });

  test("a round size may have its joint in it: both are proposed, and none is sure", () => {
    const slab = propose({
      ...{ image: { width: 1200, height: 900 }, family: "stone", words: ["slab 60x30cm"] },
      count: { across: 2, down: 3, bond: "stack", sure: 0.99 },
    });
    expect(slab.slice(0, 2).map(({ repeat }) => repeat.width)).toEqual([1200, 1206]);
    expect(slab.some(({ isSure }) => isSure)).toBe(false);
  });

  test("a name whose size does not fit what was counted is not followed", () => {
    const found = propose({ words: ["Mill red 600x600"] });
    expect(found.every(({ reason }) => reason.by === "format")).toBe(true);
  });

  test("a size in a name is not sure where its joint is nobody's, the count is doubted, or the unit is open", () => {
    const unsure = (evidence: Partial<SizeEvidence>) => propose(evidence)[0];
    expect(unsure({ words: ["Mill 216.5x65.5"], image: { width: 2598, height: 2096 } })).toMatchObject({
      reason: { by: "words" },
      isSure: false,
    });
    expect(unsure({ words: ["Mill 215x65"], count: { ...WALL_COUNT, sure: 0.6 } }).isSure).toBe(false);
    expect(
      unsure({
        ...{ words: ["tile 60x30"], family: "tile", image: { width: 2000, height: 1000 } },
        count: { across: 2, down: 2, bond: "stack", sure: 0.99 },
      }).isSure,
    ).toBe(false);
  });

  test("the module of its line is sure, that of its supplier or family stands first and is not", () => {
    const module = { workSize: { width: 240, height: 71 }, joint: 10, jointVertical: 12.33 };
    expect(propose({ used: [{ module, by: "line" }] })[0]).toMatchObject({
      reason: { by: "line" },
      isSure: true,
    });
    for (const by of ["supplier", "family"] as const)
      expect(propose({ used: [{ module, by }] })[0]).toMatchObject({ reason: { by }, isSure: false });
    const slab = { workSize: { width: 600, height: 600 }, joint: 3 };
    expect(propose({ used: [{ module: slab, by: "family" }] })[0].reason.by).toBe("format");
  });

  test("flags begin with flags, whatever tiles others from their supplier are", () => {
    const tile = { workSize: { width: 148, height: 148 }, joint: 2 };
    const found = propose({
      ...{ image: { width: 900, height: 900 }, family: "tile", words: ["Dark flags"] },
      count: { across: 3, down: 3, bond: "stack", sure: 0.99 },
      used: [{ module: tile, by: "supplier" }],
    });
    expect(found[0].reason).toMatchObject({ by: "format", name: expect.stringContaining("Flag") });
  });

  test("a standing module is laid as it stands", () => {
    const found = propose({
      image: { width: 1200, height: 1350 },
      count: { across: 8, down: 3, bond: "half", upright: true, sure: 0.97 },
      words: ["215x65"],
    });
    expect(found[0].repeat).toEqual({ width: 600, height: 675 });
  });

  test("boards that are counted in both directions lie along what is longer of them, by their width alone", () => {
    const floor = { image: { width: 512, height: 512 }, family: "timber" } as const;
    const boards = (across: number, down: number, words: string[] = []) =>
      propose({ ...floor, count: { across, down, bond: "quarter", sure: 0.8 }, words });
    const widths = FORMATS.filter(({ kind }) => kind === "board").map(({ workSize }) => workSize?.height);
    for (const { method, repeat } of boards(8, 2)) {
      expect(method).toMatchObject({ method: "modules", across: 8 });
      expect(widths).toContainEqual(expect.closeTo(repeat.width / 8, 6));
    }
    for (const { repeat } of boards(2, 8))
      expect(widths).toContainEqual(expect.closeTo(repeat.height / 8, 6));
    expect(boards(8, 2, ["floor_wood01.png"])[0].reason).toEqual({ by: "format", name: "Floorboard 137" });
    expect(boards(8, 2, ["oak 137 mm"])[0]).toMatchObject({
      ...{ reason: { by: "words" }, repeat: { width: 1096, height: 1096 }, isSure: false },
    });
  });

  test("only rows: boards by their width, which words may say", () => {
    const boards = (words: string[]) =>
      propose({
        image: { width: 2000, height: 2000 },
        count: { down: 10, bond: "other", sure: 0.95 },
        ...{ family: "timber", words },
      });
    expect(boards(["oak 137mm"])[0]).toMatchObject({ repeat: { width: 1370, height: 1370 }, isSure: false });
    // A format of that width brings its gap.
    expect(boards(["deck 145 mm"])[0].repeat.width).toBeCloseTo(1500, 6);
    // Length, width and thickness, in whatever order they are sold.
    expect(boards(["pine 2200x137x20"])[0].repeat.width).toBeCloseTo(1370, 6);
    expect(boards(["deck 90x19"])[0].repeat.width).toBeCloseTo(900, 6);
    expect(boards([])[0]).toMatchObject({ reason: { by: "format" }, isSure: false });
  });

  test("without a count: what the name says of the whole, or a sibling of the same proportions", () => {
    const nothing = { count: undefined, image: { width: 2048, height: 2048 }, family: "plaster" as const };
    expect(propose({ ...nothing, words: ["plaster 2m"] })).toMatchObject([
      { repeat: { width: 2000, height: 2000 }, isSure: false },
    ]);
    const sibling = {
      id: "one",
      name: "Rough",
      image: { width: 1024, height: 1024 },
      repeat: { width: 900, height: 900 },
    };
    expect(propose({ ...nothing, sibling })).toMatchObject([
      { method: { method: "same-as", material: "one" }, isSure: true },
    ]);
    const wide = { ...sibling, image: { width: 2048, height: 1024 } };
    expect(propose({ ...nothing, sibling: wide })[0].isSure).toBe(false);
    expect(propose(nothing)).toEqual([]);
  });

  test.each<[string, ModuleCount, [number, number]]>([
    // A block is 103 mm wide with its joint: four widths to a period both ways.
    ["herringbone", { across: 2, down: 2, bond: "herringbone", sure: 0.95 }, [824, 824]],
    ["basket weave", { across: 3, down: 3, bond: "basket", sure: 0.95 }, [609, 609]],
  ])("paving in %s", (_, count, [width, height]) => {
    const found = propose({
      ...{ image: { width: 1024, height: 1024 }, count, family: "ground" },
      words: ["paver 200x100"],
    });
    expect(found[0].repeat.width).toBeCloseTo(width, 6);
    expect(found[0].repeat.height).toBeCloseTo(height, 6);
  });

  test("Flemish bond by its headers", () => {
    const found = propose({
      image: { width: 1350, height: 600 },
      count: { across: 2, down: 4, bond: "flemish", sure: 0.95 },
      words: ["215x65"],
    });
    expect(found[0].repeat.width).toBeCloseTo(675, 6);
    expect(found[0].repeat.height).toBeCloseTo(300, 6);
  });

  test("what is proposed is what its way leads to, each once", () => {
    const found = propose({ words: ["215x65", "215 x 65 mm"], used: [{ module: FORMATS[0], by: "family" }] });
    for (const { method, repeat } of found) expect(gaugeRepeat(WALL, method).repeat).toEqual(repeat);
    const sizes = found.map(({ repeat }) => `${repeat.width.toFixed(1)} ${repeat.height.toFixed(1)}`);
    expect(new Set(sizes).size).toBe(sizes.length);
  });
});

describe("kinds of formats", () => {
  test("a paver does not begin with bricks", () => {
    expect(kindsOf({ family: "brick", words: ["Clay paver, old"] })[0]).toBe("paving");
    expect(kindsOf({ family: "brick", words: ["Old town"] })[0]).toBe("brick");
    expect(kindsOf({ family: null, words: ["thing"] }).length).toBeGreaterThan(5);
  });
});
