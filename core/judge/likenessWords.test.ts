import { describe, expect, test } from "@jest/globals";
import { likenessOf, type Likeness } from "#core/judge/likeness";
import { likenessWords } from "#core/judge/likenessWords";
import { mirrored, quarterTurned, sampleSet } from "#core/judge/testing";

const WHOLE: Likeness = { alike: 0.934, mirrored: false, turns: 0, shiftX: 0, shiftY: 0, tint: [0, 0, 0] };
const part = (width: number, height: number) => ({ left: 0, top: 0, width, height });
const parts = (first: [number, number], second: [number, number]): Likeness => ({
  ...WHOLE,
  parts: { first: part(...first), second: part(...second) },
});

test("a whole picture is like another, with what was done to it", () => {
  expect(likenessWords(WHOLE, "Slate", true)).toBe(
    "It is much like “Slate” of the library (93 %): the same picture, or a variant of it.",
  );
  expect(likenessWords({ ...WHOLE, shiftX: -0.2, tint: [0, 0.1, 0] }, "Slate", false)).toContain(
    "(93 %, shifted, tinted)",
  );
});

describe("which way it was turned is said of the picture, whichever of the two comes first", () => {
  const image = sampleSet("chips").base_color;

  test.each([
    ["turned", quarterTurned(image)],
    ["mirrored, turned", quarterTurned(mirrored(image))],
  ])("%s", (_, changed) => {
    const asSecond = likenessWords(likenessOf(image, changed), "Chips", false);
    const asFirst = likenessWords(likenessOf(changed, image), "Chips", true);
    const done = (words: string) => /, ((mirrored, )?turned by \d+°)/.exec(words)![1];
    expect(done(asFirst)).toBe(done(asSecond));
  });
});

describe("of a part", () => {
  test("the smaller picture shows a part of the larger one", () => {
    const like = parts([0.8, 0.8], [1, 1]);
    expect(likenessWords(like, "Slate", false)).toMatch(
      /^It shows a part of “Slate”.*cropped from it, or mended/,
    );
    expect(likenessWords(like, "Slate", true)).toMatch(/^“Slate” of the library shows a part of it/);
  });

  test("two that were cropped from a third have a part in common, and none is the other's", () => {
    for (const isFirst of [true, false])
      expect(likenessWords(parts([0.85, 0.85], [0.85, 0.86]), "Slate", isFirst)).toBe(
        "A part of it is also a part of “Slate” of the library (93 % alike).",
      );
    expect(likenessWords(parts([0.5, 0.6], [0.7, 0.6]), "Slate", true)).toMatch(/^A part of it/);
  });
});
