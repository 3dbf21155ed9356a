import { describe, expect, test } from "@jest/globals";
import { drawTo, putDown, type Hand, type Surface, type Tool } from "./drawRegion";
import { startRegion, type RegionFields } from "./readRegion";

const REGION: RegionFields = {
  ...startRegion({ width: 1000, height: 800 }, "Wall"),
  corners: [
    { x: 100, y: 100 },
    { x: 900, y: 100 },
    { x: 900, y: 700 },
    { x: 100, y: 700 },
  ],
};
const HAND: Hand = { grip: { kind: "corner", index: 0 }, at: { x: 0, y: 0 } };
/** One pixel is two millimetres, from the first corner on. */
const SURFACE: Surface = {
  widthMm: 1600,
  patches: [],
  toReal: ({ x, y }) => ({ x: 2 * (x - 100), y: 2 * (y - 100) }),
  text: (mm) => String(mm),
};

/** A whole stroke, a place at a time. */
function stroke(
  fields: RegionFields,
  tool: Tool,
  places: [number, number][],
  surface: Surface | null = SURFACE,
): RegionFields {
  const [[x, y], ...rest] = places;
  let drawn = putDown({ fields, hand: HAND }, tool, { x, y }, 12, surface ?? undefined);
  for (const [x, y] of rest) drawn = drawTo(drawn, tool, { x, y }, surface ?? undefined);
  return drawn.fields;
}

describe("a stroke", () => {
  test("moves the corner under it by all that it went, in however many steps", () => {
    const once = stroke(REGION, "corners", [
      [104, 98],
      [154, 128],
    ]);
    const often = stroke(REGION, "corners", [
      [104, 98],
      [120, 90],
      [150, 120],
      [154, 128],
    ]);
    expect(once.corners[0]).toEqual({ x: 150, y: 130 });
    expect(often).toEqual(once);
    expect(once.corners.slice(1)).toEqual(REGION.corners.slice(1));
  });

  test("draws an edge whose middle follows until it is pulled onto the edge itself", () => {
    const drawn = stroke(REGION, "straight", [
      [200, 200],
      [400, 240],
    ]);
    expect(drawn.straight).toEqual([
      [
        { x: 200, y: 200 },
        { x: 300, y: 220 },
        { x: 400, y: 240 },
      ],
    ]);
    const bent = stroke(drawn, "straight", [
      [300, 220],
      [300, 230],
    ]);
    expect(bent.straight[0][1]).toEqual({ x: 300, y: 230 });
  });

  test("puts a check point down, and takes an old one up again", () => {
    const placed = stroke(REGION, "check", [[500, 400]]);
    expect(placed.control).toEqual([{ at: { x: 500, y: 400 }, across: "", down: "" }]);
    const carried = stroke(placed, "check", [
      [505, 400],
      [525, 410],
    ]);
    expect(carried.control).toEqual([{ at: { x: 520, y: 410 }, across: "", down: "" }]);
  });

  test("draws a patch from any corner to any other, taken from where there is more of the wall", () => {
    const left = stroke(REGION, "patch", [
      [250, 250],
      [200, 200],
    ]);
    expect(left.patches).toEqual([
      { x: "200", y: "200", width: "100", height: "100", shiftX: "100", shiftY: "0", material: null },
    ]);
    expect(
      stroke(REGION, "patch", [
        [800, 200],
        [850, 250],
      ]).patches[0].shiftX,
    ).toBe("-100");
  });

  test("carries a patch that is there, and leaves where it is taken from", () => {
    const patch = { x: 200, y: 200, width: 100, height: 100 };
    const fields: RegionFields = {
      ...REGION,
      patches: [
        { x: "200", y: "200", width: "100", height: "100", shiftX: "7", shiftY: "8", material: null },
      ],
    };
    const after = stroke(
      fields,
      "patch",
      [
        [225, 225],
        [240, 230],
        [245, 235],
      ],
      { ...SURFACE, patches: [patch] },
    );
    expect(after.patches).toEqual([
      { x: "240", y: "220", width: "100", height: "100", shiftX: "7", shiftY: "8", material: null },
    ]);
  });

  test("draws no patch as long as nobody knows the size", () => {
    expect(
      stroke(
        REGION,
        "patch",
        [
          [250, 250],
          [300, 300],
        ],
        null,
      ),
    ).toBe(REGION);
  });
});
