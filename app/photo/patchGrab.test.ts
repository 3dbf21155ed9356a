import { describe, expect, test } from "@jest/globals";
import { draggedPatch, patchAt, type PatchGrip } from "./patchGrab";

const under = { x: 100, y: 100, width: 400, height: 200 };
const over = { x: 300, y: 200, width: 100, height: 300 };

describe("what of a patch the pointer holds", () => {
  test.each<[string, number, number, PatchGrip | undefined]>([
    ["the upper one where both lie", 350, 250, { index: 1, part: "whole" }],
    ["the lower one beside it", 150, 150, { index: 0, part: "whole" }],
    ["a corner, from outside too", 95, 104, { index: 0, part: { right: false, bottom: false } }],
    ["the corner of the lower right", 401, 499, { index: 1, part: { right: true, bottom: true } }],
    ["nothing", 50, 50, undefined],
  ])("%s", (_, x, y, grip) => {
    expect(patchAt([under, over], { x, y }, 10)).toEqual(grip);
  });
});

describe("a patch that is dragged", () => {
  test("moves as a whole", () => {
    expect(draggedPatch(under, "whole", -30, 5)).toEqual({ ...under, x: 70, y: 105 });
  });
  test("keeps the corner opposite to the held one", () => {
    expect(draggedPatch(under, { right: false, bottom: true }, 50, 60)).toEqual({
      x: 150,
      y: 100,
      width: 350,
      height: 260,
    });
  });
  test("turns over past that corner, and never vanishes", () => {
    expect(draggedPatch(under, { right: true, bottom: false }, -500, 200)).toEqual({
      x: 0,
      y: 300,
      width: 100,
      height: 1,
    });
  });
});
