import { describe, expect, test } from "@jest/globals";
import { snapToJoints } from "#core/gauge/snap";

/** Half bond of 100 × 40 px, its first joint at 5, its first bed at 3. */
const half = { left: 5, top: 3, width: 100, height: 40, shift: 1 / 2 };

describe("a point near joints", () => {
  test("is pulled to the joint of its own course", () => {
    expect(snapToJoints({ x: 103, y: 20 }, half, 6, true).point).toEqual({ x: 105, y: 20 });
    expect(snapToJoints({ x: 57, y: 60 }, half, 6, true).point).toEqual({ x: 55, y: 60 });
  });

  test("on a bed is pulled to it, and to the joints of the course above as well as below", () => {
    for (const x of [103, 152]) {
      const { point, down } = snapToJoints({ x, y: 45 }, half, 6, true);
      expect(down).toBe(true);
      expect(point).toEqual({ x: x === 103 ? 105 : 155, y: 43 });
    }
  });

  test("stays where nothing is within reach, and where there are rows only", () => {
    expect(snapToJoints({ x: 150, y: 20 }, half, 6, true)).toEqual({
      point: { x: 150, y: 20 },
      across: false,
      down: false,
    });
    expect(snapToJoints({ x: 104, y: 44 }, half, 6, false).point).toEqual({ x: 104, y: 43 });
  });

  test("is pulled to the joints of its column where columns are shifted", () => {
    const upright = { left: 3, top: 5, width: 40, height: 100, shift: 1 / 2, upright: true };
    expect(snapToJoints({ x: 20, y: 103 }, upright, 6, true).point).toEqual({ x: 20, y: 105 });
    expect(snapToJoints({ x: 60, y: 57 }, upright, 6, true).point).toEqual({ x: 60, y: 55 });
    expect(snapToJoints({ x: 45, y: 103 }, upright, 6, true)).toMatchObject({
      point: { x: 43, y: 105 },
      across: true,
      down: true,
    });
  });

  test("outside of the picture, at negative places, is pulled as well", () => {
    expect(snapToJoints({ x: -94, y: -36 }, half, 6, true).point).toEqual({ x: -95, y: -37 });
  });
});
