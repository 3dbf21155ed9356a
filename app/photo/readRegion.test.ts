import { describe, expect, test } from "@jest/globals";
import { flattenRecipeSchema } from "#core/photo/recipe";
import { checkRegion } from "#core/photo/region";
import { readRegion, startRegion, type RegionFields } from "./readRegion";

const photo = { width: 800, height: 600 };
const typed = (fields: Partial<RegionFields>): RegionFields => ({
  ...startRegion(photo, "Gable"),
  width: "3",
  height: "250 cm",
  ...fields,
});

describe("readRegion", () => {
  test("reads lengths in the person's unit, and gives a recipe that is one", () => {
    const reading = readRegion(typed({}), "m");
    if (!("recipe" in reading)) throw new Error(JSON.stringify(reading));
    expect(reading.recipe).toMatchObject({ width: 3000, height: 2500, layout: "placed" });
    expect(() => checkRegion(flattenRecipeSchema.parse(reading.recipe), photo)).not.toThrow();
  });

  test("waits for the size, and names what cannot be read", () => {
    expect(readRegion(typed({ height: " " }), "mm")).toEqual({ waiting: true });
    expect(readRegion(typed({ width: "3 q" }), "mm")).toMatchObject({
      field: "width",
      message: expect.stringContaining("“3 q”"),
    });
  });

  test("takes shifts and control points to either side, and leaves out points that are not typed yet", () => {
    const at = { x: 10, y: 10 };
    const patch = {
      x: "0",
      y: "-200",
      width: "100",
      height: "400",
      shiftX: "-50",
      shiftY: "0",
      material: null,
    };
    const reading = readRegion(
      typed({
        width: "3000",
        control: [
          { at, across: "1500", down: "-20" },
          { at, across: "", down: "" },
        ],
        patches: [patch],
      }),
      "mm",
    );
    expect(reading).toMatchObject({
      recipe: {
        control: [{ real: { x: 1500, y: -20 } }],
        patches: [{ x: 0, y: -200, shift: { x: -50, y: 0 } }],
      },
    });
    expect(readRegion(typed({ patches: [{ ...patch, width: "-5" }] }), "mm")).toMatchObject({
      field: "patches/0",
    });
  });
});
