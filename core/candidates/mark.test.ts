import { expect, test } from "@jest/globals";
import { markOf } from "#core/candidates/mark";

test.each([
  ["wall_kx.png", "_kx"],
  ["Folder.two/wall_kx_2k.png", "_kx"],
  ["wall-KX-4096.tif", "-KX"],
  ["wall_4K_kx_16-bit.exr", "_kx"],
  ["wall kx.jpg", " kx"],
  ["BrickNrm.png", "Nrm"],
  ["BrickAO_1024px.png", "AO"],
  ["plank2_n.tga", "_n"],
  // What is one word, or ends in a number, has none.
  ["wall.png", ""],
  ["_kx.png", ""],
  ["IMG_4031.jpg", ""],
  ["", ""],
  ["a\\b\\oak_rgh.png", "_rgh"],
  ["mauer_höhe.png", "_höhe"],
])("%s ends in “%s”", (file, mark) => expect(markOf(file)).toBe(mark));

test("a name of any length is read at once", () => {
  expect(markOf(`${"a_".repeat(50_000)}kx.png`)).toBe("_kx");
  expect(markOf(`${"1024".repeat(20_000)}.png`)).toBe("");
  expect(markOf(`${"-".repeat(200_000)}7.png`)).toBe("");
});
