import { describe, expect, test } from "@jest/globals";
import { levelSize, tileLevelFor, tilesOf, tilesWithin } from "./tiles";

const LARGE = { width: 8192, height: 8192 };

describe("tiles", () => {
  test("cover every pixel of every level of a large image once", () => {
    const size = { width: 5000, height: 2049 };
    const tiles = tilesOf(size);
    for (const level of [0, 1, 2]) {
      const { width, height } = levelSize(size, level);
      const area = tiles
        .filter((tile) => tile.level === level)
        .reduce((sum, tile) => sum + tile.width * tile.height, 0);
      expect(area).toBe(width * height);
    }
    expect(tiles.some(({ level }) => level === 3)).toBe(false);
    expect(tiles[14]).toEqual({ level: 0, x: 4, y: 2, left: 4096, top: 2048, width: 904, height: 1 });
  });

  test("are not made where the largest preview shows every pixel", () => {
    expect(tilesOf({ width: 4096, height: 4096 })).toEqual([]);
    expect(tileLevelFor({ width: 4096, height: 4096 }, 8)).toBeUndefined();
  });

  test.each([
    ["all of it in a small window", 0.07, undefined],
    ["as much as the picture under them has", 1024 / 8192, undefined],
    ["a little more", 0.13, 2],
    ["a quarter", 0.25, 2],
    ["more than a quarter", 0.26, 1],
    ["every pixel", 1, 0],
    ["single pixels, enlarged", 30, 0],
  ])("are of the level that has enough: %s", (_, scale, level) => {
    expect(tileLevelFor(LARGE, scale)).toBe(level);
  });

  test.each([
    ["in the middle", 0, { left: 1500, top: 1100, right: 2100, bottom: 1200 }, ["1,1", "2,1"]],
    ["on a border", 0, { left: 1024, top: 0, right: 2048, bottom: 1024 }, ["1,0"]],
    ["at a quarter of the pixels", 2, { left: 3000, top: 0, right: 5000, bottom: 10 }, ["0,0", "1,0"]],
    ["partly outside", 0, { left: -900, top: -5, right: 10, bottom: 20 }, ["0,0"]],
    ["wholly outside, before it", 0, { left: -900, top: 0, right: -10, bottom: 20 }, []],
    ["wholly outside, after it", 0, { left: 9000, top: 0, right: 9999, bottom: 20 }, []],
  ])("in sight of a part %s", (_, level, part, names) => {
    expect(tilesWithin(LARGE, level, part).map(({ x, y }) => `${x},${y}`)).toEqual(names);
  });
});
