import { expect, test } from "@jest/globals";
import { dielectricFresnel } from "#core/shade/fresnel";
import { glossUnits, roughnessOfGloss } from "#core/shade/glossUnits";
import { PLAIN_SURFACE, type Surface } from "#core/shade/surface";

const black = (values: Partial<Surface>): Surface => ({ ...PLAIN_SURFACE, baseColor: [0, 0, 0], ...values });

test("black glass of index 1.567 has 100, other smooth ones what Fresnel says, a mirror a thousand", () => {
  expect(glossUnits(black({ roughness: 0, ior: 1.567 }))).toBeCloseTo(100, 0);
  for (const ior of [1.3, 1.5, 1.7])
    expect(glossUnits(black({ roughness: 0, ior }))).toBeCloseTo(
      (100 * dielectricFresnel(0.5, ior)) / dielectricFresnel(0.5, 1.567),
      0,
    );
  const mirror = glossUnits(black({ roughness: 0, metalness: 1, baseColor: [1, 1, 1] }));
  expect(Math.abs(mirror / 999 - 1)).toBeLessThan(0.01);
});

test("the rougher the duller, down to next to nothing; a white ground adds what it scatters into the receptor", () => {
  const units = [0.05, 0.15, 0.25, 0.35, 0.5, 0.7, 1].map((roughness) => glossUnits(black({ roughness })));
  for (let i = 1; i < units.length; i++) expect(units[i]).toBeLessThan(units[i - 1]);
  expect(units.at(-1)).toBeLessThan(2);
  const matt = { roughness: 1, specularWeight: 0 };
  // A solid angle of 0.0156 by the cosine of 60° over π, against 0.1001.
  expect(glossUnits(black({ ...matt, baseColor: [1, 1, 1] }))).toBeCloseTo(2.5, 0);
  expect(glossUnits(black(matt))).toBeLessThan(0.01);
});

test("a lacquer over a matt ground has the lacquer's gloss", () => {
  const lacquered = glossUnits(black({ roughness: 0.9, coatWeight: 1, coatRoughness: 0 }));
  expect(Math.abs(lacquered - glossUnits(black({ roughness: 0 })))).toBeLessThan(2);
});

test("a gloss that is asked for is met, and where none is so glossy or so dull the nearest is taken", () => {
  for (const wanted of [3, 10, 25, 50, 80])
    expect(Math.abs(glossUnits(black({ roughness: roughnessOfGloss(wanted) })) - wanted)).toBeLessThan(0.5);
  expect(roughnessOfGloss(500)).toBe(0.02);
  expect(roughnessOfGloss(0)).toBe(1);
});
