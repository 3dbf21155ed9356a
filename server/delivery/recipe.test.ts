import { describe, expect, test } from "@jest/globals";
import type { MaterialPlan } from "#core/convert/materialPlan";
import { planConversion } from "#core/convert/plan";
import { glossPathTracer } from "#core/convert/profiles/glossPathTracer";
import { finishSchema } from "#core/finish/finish";
import type { MaterialMap, MaterialState } from "#core/finish/material";
import { containerRecipe, imageRecipe } from "#server/delivery/recipe";

const color: MaterialMap = {
  role: "base_color",
  sha256: "a".repeat(64),
  channel: "color",
  fileName: "one.png",
  normalDirection: null,
  width: 64,
  height: 64,
  bitDepth: 8,
  channels: 3,
};

const planOf = (
  map: Partial<MaterialMap> = {},
  more: Partial<MaterialState> = {},
  maxPixels?: number,
): MaterialPlan =>
  planConversion(
    {
      id: "1",
      code: "M1",
      name: "One",
      fileName: "one-1",
      revision: 1,
      layout: "repeating",
      repeat: { width: 900, height: 900 },
      sizeState: "known",
      finish: finishSchema.parse({}),
      maps: [
        { ...color, ...map },
        { ...color, role: "ambient_occlusion", sha256: "b".repeat(64), channels: 1 },
      ],
      ...more,
    },
    glossPathTracer,
    { maxPixels },
  );
const recipeOf = (plan: MaterialPlan, wrap = true) => imageRecipe(plan.files[0], wrap);

describe("imageRecipe", () => {
  const original = recipeOf(planOf());

  test.each<[string, string]>([
    ["another file name", recipeOf(planOf({ fileName: "two.png" }))],
    [
      "another name, revision and size of the material",
      recipeOf(planOf({}, { name: "Two", revision: 5, repeat: { width: 1, height: 1 } })),
    ],
    ["a limit that does not bite", recipeOf(planOf({}, {}, 4096))],
  ])("stays the same for %s: the pixels do not change", (_, recipe) => {
    expect(recipe).toBe(original);
  });

  test.each<[string, string]>([
    ["another source", recipeOf(planOf({ sha256: "c".repeat(64) }))],
    [
      "another strength of occlusion",
      recipeOf(planOf({}, { finish: finishSchema.parse({ occlusionStrength: 0.5 }) })),
    ],
    ["fewer pixels", recipeOf(planOf({}, {}, 32))],
    ["an image that is placed once", recipeOf(planOf(), false)],
  ])("is another for %s", (_, recipe) => {
    expect(recipe).not.toBe(original);
  });
});

test("containerRecipe follows what is written around the images", () => {
  const images = ["d".repeat(64)];
  const original = containerRecipe(planOf(), images);
  expect(containerRecipe(planOf({}, { revision: 9 }), images)).toBe(original);
  for (const changed of [
    planOf({}, { name: "Two" }),
    planOf({}, { repeat: null }),
    planOf({}, { finish: finishSchema.parse({ ior: 1.4 }) }),
  ])
    expect(containerRecipe(changed, images)).not.toBe(original);
  expect(containerRecipe(planOf(), ["e".repeat(64)])).not.toBe(original);
});
