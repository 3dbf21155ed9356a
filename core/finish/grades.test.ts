import { describe, expect, test } from "@jest/globals";
import { changedFinish, DEFAULT_FINISH, finishChangeSchema, finishSchema } from "#core/finish/finish";
import { GRADES, gradeChange } from "#core/finish/grades";
import { STARTING_POINTS } from "#core/finish/startingPoints";
import { lightReflectance } from "#core/finish/lightReflectance";
import { glossUnits } from "#core/shade/glossUnits";
import { PLAIN_SURFACE } from "#core/shade/surface";

describe("a surface grade", () => {
  test.each(GRADES.map((grade) => [grade.name, grade] as const))(
    "%s can be set on any material, and taken back",
    (_, grade) => {
      for (const maps of [[], [{ role: "gloss" as const }, { role: "geometry_normal" as const }]]) {
        const received = finishSchema.parse({ roughness: 0.55, ior: 1.6 });
        const change = gradeChange(grade, received, maps);
        expect(finishChangeSchema.safeParse(change).success).toBe(true);
        const worked = changedFinish(received, change);
        expect(worked.grade).toBe(grade.name);
        // A map stays the one that says how rough it is; without one the value does.
        if (maps.length > 0) expect(worked.roughness).toBe(0.55);
        else expect(worked.roughness).toBe(grade.roughness);
      }
    },
  );

  test("after another one leaves nothing of it", () => {
    const [lacquered, honed] = ["lacquered", "honed"].map((name) => GRADES.find((one) => one.name === name)!);
    const maps = [{ role: "specular_roughness" as const }, { role: "geometry_normal" as const }];
    const once = changedFinish(DEFAULT_FINISH, gradeChange(honed, DEFAULT_FINISH, maps));
    const twice = changedFinish(
      changedFinish(DEFAULT_FINISH, gradeChange(lacquered, DEFAULT_FINISH, maps)),
      gradeChange(honed, DEFAULT_FINISH, maps),
    );
    expect(twice).toEqual(once);
    expect(once.roughnessScale).toBeLessThan(1);
    expect(once.coatWeight).toBeUndefined();
  });

  test("polished is smoother than honed, honed than sawn, sawn than flamed", () => {
    const roughness = (name: string) => GRADES.find((one) => one.name === name)!.roughness;
    expect(roughness("polished")).toBeLessThan(roughness("honed"));
    expect(roughness("honed")).toBeLessThan(roughness("sawn"));
    expect(roughness("sawn")).toBeLessThan(roughness("flamed"));
  });

  test("of a paint has the gloss that it says", () => {
    const paints = GRADES.filter(({ glossUnits: units }) => units !== undefined);
    expect(paints).toHaveLength(3);
    for (const { roughness, glossUnits: units } of paints)
      expect(
        Math.abs(glossUnits({ ...PLAIN_SURFACE, baseColor: [0, 0, 0], roughness }) / units! - 1),
      ).toBeLessThan(0.05);
  });
});

describe("the light reflectance value", () => {
  test("of a plain colour is its Y, after the finish", () => {
    expect(lightReflectance(finishSchema.parse({ color: "#ffffff" }))).toBeCloseTo(100, 6);
    expect(lightReflectance(finishSchema.parse({ color: "#00ff00" }))).toBeCloseTo(71.52, 6);
    expect(lightReflectance(finishSchema.parse({ color: "#ffffff", brightnessStops: -1 }))).toBeCloseTo(
      50,
      6,
    );
    expect(lightReflectance(DEFAULT_FINISH)).toBeUndefined();
  });

  test("of a picture is the Y of its mean in linear light, and not of its codes", () => {
    const half = new Uint8ClampedArray(400 * 200 * 4);
    for (let i = 0; i < half.length; i += 4) half.fill(Math.floor(i / 4) % 400 < 200 ? 0 : 255, i, i + 4);
    expect(Math.abs(lightReflectance(DEFAULT_FINISH, half)! - 50)).toBeLessThan(0.5);
    expect(Math.abs(lightReflectance(finishSchema.parse({ tint: "#bcbcbc" }), half)! - 25.1)).toBeLessThan(
      0.5,
    );
    expect(lightReflectance(DEFAULT_FINISH, [])).toBeUndefined();
  });
});

describe("a starting point", () => {
  test.each(STARTING_POINTS.map((one) => [one.name, one] as const))(
    "%s can be saved, and says what it is",
    (_, one) => {
      expect(finishChangeSchema.safeParse(one.change).success).toBe(true);
      expect(one.says).toMatch(/^[A-Z].*\.$/);
    },
  );

  test("leaves nothing of the one before, and everything that it does not speak of", () => {
    const [pane, , curtain] = STARTING_POINTS;
    const given = finishSchema.parse({ tint: "#aabbcc", heightAmplitudeMm: 4 });
    const after = changedFinish(changedFinish(given, pane.change), curtain.change);
    expect(after).toEqual(changedFinish(given, curtain.change));
    expect(after).toMatchObject({ tint: "#aabbcc", heightAmplitudeMm: 4, thinWalled: true });
    expect(after.transmissionWeight).toBeUndefined();
  });
});
