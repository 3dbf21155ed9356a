import { describe, expect, test } from "@jest/globals";
import { gripAt, moved, placeOf, type Grip } from "./grab";
import { startRegion } from "./readRegion";

/** Corners at 20 and 80 of 100 px. */
const region = {
  ...startRegion({ width: 100, height: 100 }, "Gable"),
  straight: [
    [
      { x: 5, y: 5 },
      { x: 50, y: 6 },
      { x: 95, y: 5 },
    ],
  ] as ReturnType<typeof startRegion>["straight"],
  control: [{ at: { x: 50, y: 50 }, across: "", down: "" }],
};

describe("what the pointer holds", () => {
  test.each<[number, number, Grip | undefined]>([
    [22, 19, { kind: "corner", index: 0 }],
    [79, 82, { kind: "corner", index: 2 }],
    [50, 21, { kind: "edge", index: 0 }],
    [80, 50, { kind: "edge", index: 1 }],
    [50, 52, { kind: "control", index: 0 }],
    [49, 8, { kind: "straight", index: 0, end: 1 }],
    [40, 60, { kind: "whole" }],
    [10, 60, undefined],
  ])("at %d, %d", (x, y, grip) => {
    expect(gripAt(region, { x, y }, 5)).toEqual(grip);
  });

  test("moves with it, and nothing else does", () => {
    const corner = moved(region, { kind: "corner", index: 1 }, 3, -2);
    expect(corner.corners[1]).toEqual({ x: 83, y: 18 });
    expect(corner.corners[0]).toEqual(region.corners[0]);
    const edge = moved(region, { kind: "edge", index: 3 }, -5, 0);
    expect(edge.corners.map(({ x }) => x)).toEqual([15, 80, 80, 15]);
    expect(moved(region, { kind: "whole" }, 1, 1).corners.map(({ x }) => x)).toEqual([21, 81, 81, 21]);
    const line = moved(region, { kind: "straight", index: 0, end: 1 }, 0, 4);
    expect(line.straight[0].map(({ y }) => y)).toEqual([5, 10, 5]);
    const point = moved(region, { kind: "control", index: 0 }, 2, 0);
    expect(placeOf(point, { kind: "control", index: 0 })).toEqual({ x: 52, y: 50 });
    expect(point.corners).toEqual(region.corners);
  });
});
