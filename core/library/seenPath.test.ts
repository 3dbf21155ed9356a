import { describe, expect, test } from "@jest/globals";
import { fileNameIn, insideOf, seenPathSchema, wholePath } from "#core/library/seenPath";

describe("a whole path", () => {
  test.each([
    ["S:\\Textures", "S:\\Textures\\gloss\\slate\\slate_color.png"],
    ["\\\\server\\studio\\maps\\", "\\\\server\\studio\\maps\\gloss\\slate\\slate_color.png"],
    ["/Volumes/studio/maps/", "/Volumes/studio/maps/gloss/slate/slate_color.png"],
    ["T:/maps", "T:/maps\\gloss\\slate\\slate_color.png"],
  ])("below %s", (path, expected) => {
    expect(wholePath({ system: "one", path }, "gloss/slate/slate_color.png")).toBe(expected);
  });

  test.each([
    ['S:\\"x"', /quotation/],
    ["", /where it lies/],
    ["a".repeat(301), /300/],
  ])("is refused where it is none: %s", (path, words) => {
    expect(seenPathSchema.safeParse({ system: "one", path }).error!.issues[0].message).toMatch(words);
  });
});

describe("what lies inside a destination", () => {
  const share = {
    folder: "Studio share",
    paths: [
      { system: "Windows", path: "S:\\Textures" },
      { system: "Macs", path: "/Volumes/textures/" },
    ],
  };
  test.each([
    ["s:\\textures\\gloss\\a.png", "gloss/a.png"],
    ["S:/Textures//gloss/a.png", "gloss/a.png"],
    ["/Volumes/textures/gloss/a.png", "gloss/a.png"],
    ["file:///Volumes/textures/gloss/a.png", "gloss/a.png"],
    ["D:\\old disk\\studio share\\gloss\\a.png", "gloss/a.png"],
    ["Studio share/gloss/a.png", "gloss/a.png"],
    ["S:\\Textures2\\gloss\\a.png", undefined],
    ["C:\\Users\\ines\\Downloads\\a.png", undefined],
    ["", undefined],
  ])("of %s is %s", (path, inside) => {
    expect(insideOf(share, path)).toBe(inside);
  });

  test("and the name of a file is what comes last, on any machine", () => {
    expect(["C:\\x\\a b.png", "/x/a b.png", "a b.png"].map(fileNameIn)).toEqual(Array(3).fill("a b.png"));
  });
});
