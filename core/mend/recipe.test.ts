import { describe, expect, test } from "@jest/globals";
import { derivedWords, isMaking, mendRecipeSchema, mendWords, possibleMakings } from "#core/mend/recipe";

describe("what can be made", () => {
  const kinds = (...roles: Parameters<typeof possibleMakings>[0]) =>
    possibleMakings(roles).map(({ kind }) => kind);

  test("follows from what is there; what says the same is not missing", () => {
    expect(kinds("base_color")).toEqual(["height-from-color", "roughness-from-color"]);
    expect(kinds("base_color", "gloss", "bump")).toEqual(["normal-from-height", "occlusion-from-height"]);
    expect(kinds("geometry_normal", "specular_roughness")).toEqual(["height-from-normal"]);
    expect(kinds()).toEqual([]);
  });

  test("takes a true height before a bump", () => {
    expect(possibleMakings(["bump", "height"]).map(({ from }) => from)).toEqual(["height", "height"]);
  });
});

describe("a recipe", () => {
  test("has usual settings, and is told in words", () => {
    const copy = mendRecipeSchema.parse({ kind: "one-copy", across: 2, down: 1 });
    expect(mendWords(copy)).toBe("Cut to one copy of itself");
    expect(mendRecipeSchema.safeParse({ kind: "one-copy", across: 1, down: 1 }).success).toBe(false);
    const seams = mendRecipeSchema.parse({ kind: "seams", down: false });
    expect(mendWords(seams)).toBe("Seams mended left to right");
    expect(mendWords(mendRecipeSchema.parse({ kind: "crop" }))).toBe("Cropped to whole modules");
    expect(isMaking(seams)).toBe(false);
    const guess = mendRecipeSchema.parse({ kind: "height-from-color" });
    expect(guess).toEqual({ kind: "height-from-color", depthMm: 3, darkIsDeep: true, fine: 0.3 });
    expect(derivedWords(["height-from-color", "seams"])).toBe(
      "height estimated from the colours, seams mended",
    );
  });

  test.each([
    { kind: "seams", across: false, down: false },
    { kind: "crop", across: false, down: false },
    { kind: "occlusion-from-height", reachMm: 0 },
    { kind: "height-from-color", depthMm: -1 },
    { kind: "roughness-from-color", level: 1.2 },
    { kind: "height-from-normal", depthMm: 3 },
    { kind: "polish" },
  ])("%j is refused", (recipe) => {
    expect(mendRecipeSchema.safeParse(recipe).success).toBe(false);
  });
});
