import { describe, expect, test } from "@jest/globals";
import { colorOrder, colorTerms } from "#core/library/colorTerms";
import { colorOfWord, shadeOfWord, wordsOfColor, type ColorWord } from "#core/library/colorWords";
import { dominantColors } from "#core/library/dominantColors";
import { linearToLab } from "#core/raster/lab";
import { hexToLinear } from "#core/raster/srgb";

const labOf = (hex: string) => linearToLab(...hexToLinear(hex));
const parts = (...of: [hex: string, count: number][]) =>
  of.flatMap(([hex, count]) => Array.from({ length: count }, () => hexToLinear(hex)));

/** Named colours of CSS (W3C), and what people call them: written down before any was tried. */
const NAMED: [name: string, hex: string, words: ColorWord[]][] = [
  ["saddlebrown", "#8b4513", ["brown"]],
  ["sienna", "#a0522d", ["brown", "red"]],
  ["chocolate", "#d2691e", ["orange", "brown"]],
  ["peru", "#cd853f", ["brown", "ochre", "orange"]],
  ["rosybrown", "#bc8f8f", ["pink", "brown"]],
  ["maroon", "#800000", ["red", "brown"]],
  ["firebrick", "#b22222", ["red"]],
  ["crimson", "#dc143c", ["red"]],
  ["tomato", "#ff6347", ["red", "orange"]],
  ["coral", "#ff7f50", ["orange", "pink"]],
  ["darkorange", "#ff8c00", ["orange"]],
  ["gold", "#ffd700", ["yellow"]],
  ["goldenrod", "#daa520", ["yellow", "ochre"]],
  ["darkgoldenrod", "#b8860b", ["ochre", "brown"]],
  ["khaki", "#f0e68c", ["yellow", "beige"]],
  ["wheat", "#f5deb3", ["beige", "cream"]],
  ["tan", "#d2b48c", ["beige", "brown"]],
  ["linen", "#faf0e6", ["white", "cream"]],
  ["cornsilk", "#fff8dc", ["cream", "white"]],
  ["snow", "#fffafa", ["white"]],
  ["gainsboro", "#dcdcdc", ["grey", "white"]],
  ["silver", "#c0c0c0", ["grey"]],
  ["dimgray", "#696969", ["grey"]],
  ["slategray", "#708090", ["grey", "blue"]],
  ["black", "#000000", ["black"]],
  ["forestgreen", "#228b22", ["green"]],
  ["darkolivegreen", "#556b2f", ["green"]],
  ["darkseagreen", "#8fbc8f", ["green"]],
  ["limegreen", "#32cd32", ["green"]],
  ["teal", "#008080", ["turquoise"]],
  ["lightseagreen", "#20b2aa", ["turquoise"]],
  ["steelblue", "#4682b4", ["blue"]],
  ["royalblue", "#4169e1", ["blue"]],
  ["navy", "#000080", ["blue"]],
  ["lightsteelblue", "#b0c4de", ["blue", "grey"]],
  ["indigo", "#4b0082", ["purple"]],
  ["orchid", "#da70d6", ["purple", "pink"]],
  ["plum", "#dda0dd", ["purple", "pink"]],
  ["lightpink", "#ffb6c1", ["pink"]],
  ["hotpink", "#ff69b4", ["pink"]],
];

describe("the words of a colour", () => {
  test("are those that people use, for 9 of 10 of a list of others", () => {
    const wrong = NAMED.filter(
      ([, hex, words]) => !wordsOfColor(labOf(hex)).words.some(({ word }) => words.includes(word)),
    );
    expect(wrong.length).toBeLessThanOrEqual(NAMED.length / 10);
    // And few are called by what nobody would.
    const odd = NAMED.flatMap(([name, hex, words]) =>
      wordsOfColor(labOf(hex))
        .words.filter(({ word }) => !words.includes(word))
        .map(({ word }) => `${name} ${word}`),
    );
    expect(odd.length).toBeLessThan(NAMED.length / 3);
  });

  test("come with the best first, and say a colour between two less well", () => {
    const [best, other] = wordsOfColor(labOf("#a0522d")).words;
    expect([best, other].map(({ word }) => word)).toEqual(["red", "brown"]);
    expect(best.nearness).toBe(1);
    expect(other.nearness).toBeLessThan(1);
    expect(other.nearness).toBeGreaterThanOrEqual(0.4);
    expect(wordsOfColor(labOf("#2a5caa")).words).toEqual([{ word: "blue", nearness: 1 }]);
    // So does a surface of it.
    const terms = colorTerms(dominantColors(parts(["#a0522d", 64])));
    expect([terms.red, terms.brown]).toEqual([1, Number(other.nearness.toFixed(3))]);
  });

  test.each([
    ["#e8e2d6", ["pale", "warm"]],
    ["#c4ccd4", ["pale", "cool"]],
    ["#1f2a4c", ["dark", "cool", "muted"]],
    ["#e02020", ["warm", "bright"]],
    ["#808080", []],
  ])("have shades: %s", (hex, shades) => {
    expect(wordsOfColor(labOf(hex)).shades).toEqual(shades);
  });

  test("are understood however they are spelt", () => {
    expect(["Gray", "grey", "greyish", "teal", "charcoal", "reddish"].map(colorOfWord)).toEqual([
      "grey",
      "grey",
      "grey",
      "turquoise",
      "black",
      "red",
    ]);
    expect([colorOfWord("constructor"), shadeOfWord("toString"), colorOfWord("oak")]).toEqual([
      undefined,
      undefined,
      undefined,
    ]);
    expect(["light", "Deep", "cold"].map(shadeOfWord)).toEqual(["pale", "dark", "cool"]);
  });
});

describe("the colours that a surface is of", () => {
  test("are told apart with their shares; a mean that is none of them is none", () => {
    const colors = dominantColors(parts(["#b02020", 32], ["#2f5a34", 32]));
    expect(colors).toHaveLength(2);
    expect(colors.map(({ share }) => share)).toEqual([0.5, 0.5]);
    const terms = colorTerms(colors);
    expect(terms).toMatchObject({ red: 0.5, green: 0.5, "dark green": 0.5 });
    expect(Object.keys(terms)).not.toContain("brown");
  });

  test("count where they cover enough", () => {
    const terms = colorTerms(dominantColors(parts(["#8e8e8c", 60], ["#b02020", 4])));
    expect(terms).toMatchObject({ grey: 0.938 });
    expect(terms.red).toBeUndefined();
  });

  test("are one where nobody sees a difference", () => {
    expect(dominantColors(parts(["#8a5a2c", 30], ["#8c5b2d", 34]))).toHaveLength(1);
    expect(dominantColors(parts(["#ffffff", 1]))[0].share).toBe(1);
  });

  test("stand in a row: greys from light to dark, then from red over yellow and green to blue and violet", () => {
    const row = [
      "#ffffff",
      "#8e8e8c",
      "#101010",
      "#b02020",
      "#e67a22",
      "#f2d21e",
      "#3f7a3a",
      "#2f8f8a",
      "#2a5caa",
      "#6a3a7a",
    ];
    const places = row.map((hex) => colorOrder(dominantColors(parts([hex, 1]))));
    expect(places).toEqual(places.toSorted((a, b) => a - b));
    expect(Math.max(...places)).toBeLessThan(2);
    expect(Math.min(...places)).toBeGreaterThanOrEqual(0);
  });
});
