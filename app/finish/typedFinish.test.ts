import { describe, expect, test } from "@jest/globals";
import { DEFAULT_FINISH, finishSchema } from "#core/finish/finish";
import { FINISH_FIELDS } from "#core/finish/valueFacts";
import { meanOfPixels, partBetween, partOnCanvas } from "./parts";
import { differenceWords, meanSurface } from "./pictureFigures";
import { gradeTexts, textsOf, troubleOf, typedFinish } from "./typedFinish";

describe("a value that is typed", () => {
  test.each([
    ["roughness", "0,4"],
    ["roughnessRange", "0.2 to 0.9"],
    ["roughnessRange", "0,2 0,9"],
    ["tint", "#FFEEdd"],
    ["thinWalled", "yes"],
    ["opacityMode", "blend"],
    ["grade", "honed"],
    ["brightnessStops", "-1.5"],
    ["coatWeight", ""],
  ] as const)("%s as “%s” can be saved", (field, typed) => {
    expect(troubleOf(field, typed)).toBeUndefined();
  });

  test.each([
    ["roughness", "abc", /“abc” is no roughness/],
    ["roughness", "1e9", /The most is 1/],
    ["ior", "-1", /The least is 1/],
    ["roughness", "", /cannot be left empty/],
    ["roughnessRange", "0.9 to 0.2", /below the second/],
    ["roughnessRange", "0.5", /no roughness, limits/],
    ["tint", "red", /#rrggbb/],
    ["heightAmplitudeMm", "5000", /The most is 1000/],
    ["thinWalled", "perhaps", /no thin sheet/],
  ] as const)("%s as “%s” is refused in words", (field, typed, words) => {
    expect(troubleOf(field, typed)).toMatch(words);
  });
});

test("what is shown of a finish is read as the same finish", () => {
  const full = finishSchema.parse({
    wear: [
      {
        material: "0b0e3c8e-6f0a-4a0e-9d51-0b62b1f8a001",
        revision: 2,
        strength: 0.3,
        polarity: "dark",
        effect: "cut-in",
        amountMm: 0.4,
        turn: 90,
        on: false,
      },
    ],
    tint: "#ffeedd",
    roughnessRange: [0.1, 0.8],
    thinWalled: true,
    opacityMode: "cut-out",
    heightAmplitudeMm: 4.5,
    grade: "brushed",
    warmth: -12,
  });
  for (const finish of [DEFAULT_FINISH, full]) expect(typedFinish(finish, textsOf(finish))).toEqual(finish);
  expect(Object.keys(textsOf(full)).sort()).toEqual([...FINISH_FIELDS, "wear"].sort());
});

test("what cannot be read yet stays as it was saved, and the rest is seen", () => {
  const saved = finishSchema.parse({ brightnessStops: 1 });
  const texts = { ...textsOf(saved), brightnessStops: "-", gamma: "1,2", roughness: "" };
  expect(typedFinish(saved, texts)).toEqual({ ...saved, gamma: 1.2 });
});

test("a grade that is known sets what it means, another one is only a word", () => {
  expect(gradeTexts("hammered", DEFAULT_FINISH, [], [])).toEqual({ grade: "hammered" });
  const maps = [{ role: "specular_roughness" as const }];
  // One of the studio's own is known as well.
  const hammered = { name: "hammered", family: "stone" as const, says: "", roughness: 0.7, shift: 0.2 };
  expect(gradeTexts("hammered", DEFAULT_FINISH, [], [hammered])).toMatchObject({
    grade: "hammered",
    roughness: "0.7",
  });
  const polished = gradeTexts("polished", DEFAULT_FINISH, maps, []);
  expect(polished).toMatchObject({ grade: "polished", roughnessScale: "0.22", coatWeight: "" });
  const lacquered = { ...textsOf(DEFAULT_FINISH), ...gradeTexts("lacquered", DEFAULT_FINISH, maps, []) };
  expect(typedFinish(DEFAULT_FINISH, lacquered)).toMatchObject({ coatWeight: 1, roughnessScale: 0.9 });
});

describe("figures of a picture", () => {
  const pixels = (...colors: number[][]) =>
    Uint8ClampedArray.from(colors.flatMap((color) => [...color, 255]));

  const of = (...colors: number[][]) => ({ mean: meanOfPixels(pixels(...colors))! });

  test("are means in linear light of what is covered, and how far two are apart", () => {
    expect(of([0, 0, 0], [255, 255, 255]).mean[1]).toBeCloseTo(0.5, 6);
    const uncovered = Uint8ClampedArray.from([255, 255, 255, 255, 0, 0, 0, 0]);
    expect(meanOfPixels(uncovered)).toEqual([1, 1, 1]);
    expect(meanOfPixels(uncovered.subarray(4))).toBeUndefined();
    const grey = of([120, 120, 120]);
    expect(differenceWords(grey, grey)).toContain("ΔE2000 0.0");
    expect(differenceWords(grey, of([120, 140, 120]))).toMatch(/ΔE2000 [1-9].*−\d/);
    const rough = { mean: 0.42, spread: 0.07 };
    expect(differenceWords({ ...grey, roughness: rough }, grey)).not.toContain("roughness");
    expect(differenceWords({ ...grey, roughness: rough }, { ...grey, roughness: rough })).toContain(
      "roughness 0.42 ± 0.07 / 0.42 ± 0.07",
    );
  });

  test("of a marked part stay on their place when the view moves, and end at its edge", () => {
    const on = { width: 200, height: 100, mmPerPx: 2, middle: { x: 0, y: 0 } };
    const part = partBetween({ x: 150, y: 80 }, { x: 100, y: 50 }, on);
    expect(part).toEqual({ x: 0, y: 0, width: 100, height: 60 });
    expect(partOnCanvas(part, on)).toEqual({ x: 100, y: 50, width: 50, height: 30 });
    expect(partOnCanvas(part, { ...on, middle: { x: 180, y: 0 } })).toEqual({
      x: 10,
      y: 50,
      width: 50,
      height: 30,
    });
    expect(partOnCanvas(part, { ...on, middle: { x: 240, y: 0 } })).toEqual({
      x: 0,
      y: 50,
      width: 30,
      height: 30,
    });
    expect(partOnCanvas(part, { ...on, middle: { x: 900, y: 0 } })).toBeUndefined();
    // As a coarse picture of the same view has it.
    expect(partOnCanvas(part, { width: 100, height: 50, mmPerPx: 4, middle: { x: 0, y: 0 } })).toEqual({
      x: 50,
      y: 25,
      width: 25,
      height: 15,
    });
  });

  test("take the mean of a map for its gloss, and the finish on top", () => {
    const map = {
      key: "a",
      role: "gloss" as const,
      normalDirection: null,
      width: 2,
      height: 1,
      data: pixels([51, 0, 0], [153, 0, 0]),
    };
    expect(meanSurface(DEFAULT_FINISH, [map]).roughness).toBeCloseTo(0.6, 2);
    const halved = finishSchema.parse({ roughnessScale: 0.5 });
    expect(meanSurface(halved, [map]).roughness).toBeCloseTo(0.3, 2);
    expect(meanSurface(finishSchema.parse({ roughness: 0.2 }), []).roughness).toBe(0.2);
  });
});
