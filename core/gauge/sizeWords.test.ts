import { describe, expect, test } from "@jest/globals";
import { sizesInWords } from "#core/gauge/sizeWords";

const sizes = (words: string) =>
  sizesInWords(words).map(({ text: _, ...size }) =>
    Object.fromEntries(Object.entries(size).map(([key, value]) => [key, Number(Number(value).toFixed(6))])),
  );

describe("sizes in words", () => {
  test.each([
    ["Tile_150x75_white", [{ width: 150, height: 75 }]],
    ["slab 60 x 30 cm honed", [{ width: 600, height: 300 }]],
    ["paver 200×100 mm", [{ width: 200, height: 100 }]],
    ["stock 215x102.5x65, joint 10", [{ width: 215, height: 102.5, third: 65, joint: 10 }]],
    ["sett 150 x 150 10mm joint", [{ width: 150, height: 150, joint: 10 }]],
    ["plaster 2m", [{ width: 2000 }]],
    ["oak_board_137mm_2K", [{ width: 137 }]],
    ["limewash 1,5 m", [{ width: 1500 }]],
    ["subway 6x4 in", [{ width: 152.4, height: 101.6 }]],
  ])("“%s”", (words, expected) => {
    expect(sizes(words)).toEqual(expected);
  });

  test("a small number without a unit may be two things", () => {
    expect(sizes("tile 60x30")).toEqual([
      { width: 600, height: 300, isOpen: 1 },
      { width: 60, height: 30, isOpen: 1 },
    ]);
  });

  test.each([
    "brick_2048x2048",
    "brick_1024x512_diffuse",
    "planks 3x8",
    "wood_4K",
    "concrete 02",
    "Stone 12m2 pack",
    "tile 1000x1000",
    "render 0x200",
    "brick 99999x5",
    "x".repeat(20_000),
    "1x".repeat(5_000),
  ])("nothing in “%.30s”", (words) => {
    expect(sizesInWords(words)).toEqual([]);
  });
});
