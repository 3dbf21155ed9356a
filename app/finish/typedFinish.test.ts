import { describe, expect, test } from "@jest/globals";
import { DEFAULT_FINISH, finishSchema } from "#core/finish/finish";
import { FINISH_FIELDS } from "#core/finish/valueFacts";
import { differenceWords, meanLab, meanSurface } from "./pictureFigures";
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
    tint: "#ffeedd",
    roughnessRange: [0.1, 0.8],
    thinWalled: true,
    opacityMode: "cut-out",
    heightAmplitudeMm: 4.5,
    grade: "brushed",
    warmth: -12,
  });
  for (const finish of [DEFAULT_FINISH, full]) expect(typedFinish(finish, textsOf(finish))).toEqual(finish);
  expect(Object.keys(textsOf(full)).sort()).toEqual([...FINISH_FIELDS].sort());
});

test("what cannot be read yet stays as it was saved, and the rest is seen", () => {
  const saved = finishSchema.parse({ brightnessStops: 1 });
  const texts = { ...textsOf(saved), brightnessStops: "-", gamma: "1,2", roughness: "" };
  expect(typedFinish(saved, texts)).toEqual({ ...saved, gamma: 1.2 });
});

test("a grade that is known sets what it means, another one is only a word", () => {
  expect(gradeTexts("hammered", DEFAULT_FINISH, [])).toEqual({ grade: "hammered" });
  const maps = [{ role: "specular_roughness" as const }];
  const polished = gradeTexts("polished", DEFAULT_FINISH, maps);
  expect(polished).toMatchObject({ grade: "polished", roughnessScale: "0.22", coatWeight: "" });
  const lacquered = { ...textsOf(DEFAULT_FINISH), ...gradeTexts("lacquered", DEFAULT_FINISH, maps) };
  expect(typedFinish(DEFAULT_FINISH, lacquered)).toMatchObject({ coatWeight: 1, roughnessScale: 0.9 });
});

describe("figures of a picture", () => {
  const pixels = (...colors: number[][]) =>
    Uint8ClampedArray.from(colors.flatMap((color) => [...color, 255]));

  test("are means in linear light, and how far two are apart", () => {
    const [light] = meanLab(pixels([0, 0, 0], [255, 255, 255]));
    // Half of the light is L* 76.1; the mean code would be 53.
    expect(light).toBeCloseTo(76.07, 1);
    const grey = meanLab(pixels([120, 120, 120]));
    expect(differenceWords(grey, grey)).toContain("ΔE2000 0.0");
    expect(differenceWords(grey, meanLab(pixels([120, 140, 120])))).toMatch(/−\d.*ΔE2000 [1-9]/);
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
