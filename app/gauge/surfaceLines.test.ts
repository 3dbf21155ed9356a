import { describe, expect, test } from "@jest/globals";
import { surfaceLines, type Line } from "./surfaceLines";

const wall = {
  width: 400,
  height: 300,
  step: { x: 200, y: 100 },
  origin: { left: 0, bottom: 0 },
  shift: 1 / 2,
  upright: false,
};
const standing = (lines: Line[]) => lines.filter(({ x1, x2 }) => x1 === x2);
const lying = (lines: Line[]) => lines.filter(({ y1, y2 }) => y1 === y2);

describe("joints on a surface", () => {
  test("of courses in half bond: the lowest begins with a whole piece, the next with half of one", () => {
    const lines = surfaceLines(wall);
    expect(lying(lines).map(({ y1 }) => y1)).toEqual([200, 100]);
    const joints = standing(lines).map(({ x1, y1, y2 }) => [x1, Math.max(y1, y2)]);
    expect(joints).toEqual([
      [200, 300],
      [100, 200],
      [300, 200],
      [200, 100],
    ]);
  });

  test("of columns that are shifted: the same, turned", () => {
    const turned = surfaceLines({
      ...wall,
      width: 300,
      height: 400,
      step: { x: 100, y: 200 },
      upright: true,
    });
    expect(standing(turned).map(({ x1 }) => x1)).toEqual([100, 200]);
    // From the bottom of 400: half way up in the first column, at a quarter and three quarters in the second.
    expect(lying(turned).map(({ x1, y1 }) => [x1, y1])).toEqual([
      [0, 200],
      [100, 300],
      [100, 100],
      [200, 200],
    ]);
  });

  test("begin where the first whole module begins, below which a cut one lies", () => {
    const lines = surfaceLines({ ...wall, shift: 0, origin: { left: 50, bottom: 30 } });
    expect(lying(lines).map(({ y1 }) => y1)).toEqual([270, 170, 70]);
    expect(new Set(standing(lines).map(({ x1 }) => x1))).toEqual(new Set([50, 250]));
  });

  test("of which only one direction is known go through", () => {
    const boards = surfaceLines({ ...wall, step: { x: 0, y: 100 } });
    expect(boards).toHaveLength(2);
    expect(standing(surfaceLines({ ...wall, step: { x: 100, y: 0 } }))).toHaveLength(3);
  });

  test("are left out where they would fill the drawing", () => {
    expect(surfaceLines({ ...wall, step: { x: 2, y: 1 } })).toEqual([]);
  });
});
