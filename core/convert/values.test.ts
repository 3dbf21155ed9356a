import { describe, expect, test } from "@jest/globals";
import { planConversion } from "#core/convert/plan";
import { drawingBoard } from "#core/convert/profiles/drawingBoard";
import { glossPathTracer } from "#core/convert/profiles/glossPathTracer";
import { ifc } from "#core/convert/profiles/ifc";
import { materialX } from "#core/convert/profiles/materialX";
import { objMtl } from "#core/convert/profiles/objMtl";
import { openUsd } from "#core/convert/profiles/openUsd";
import { gltf } from "#core/convert/profiles/gltf";
import { packedWalkthrough } from "#core/convert/profiles/packedWalkthrough";
import { containerImage, type MaterialPlan } from "#core/convert/materialPlan";
import {
  DEFAULT_FINISH,
  finishSchema,
  heightAmplitude,
  type Finish,
  type FinishField,
} from "#core/finish/finish";
import type { MaterialMap, MaterialState } from "#core/finish/material";
import { FINISH_FIELDS, FINISH_VALUES } from "#core/finish/valueFacts";
import { containerKind } from "#core/formats/containers";
import { isColorRole, ROLES, type Role } from "#core/roles/roles";

/** Every value of a finish against every profile: it changes what is delivered, or it is said that it cannot. */
const PROFILES = [glossPathTracer, packedWalkthrough, drawingBoard, gltf, materialX, openUsd, objMtl, ifc];

const mapOf = (role: Role): MaterialMap => ({
  role,
  sha256: role.padEnd(64, "0"),
  channel: "color",
  fileName: `${role}.png`,
  normalDirection: role === "geometry_normal" ? "+Y" : null,
  width: 64,
  height: 64,
  bitDepth: 8,
  channels: isColorRole(role) || role === "geometry_normal" ? 3 : 1,
});

function material(roles: Role[], finish: Partial<Finish>): MaterialState {
  return {
    id: "1",
    code: "M1",
    name: "Slate",
    fileName: "slate-1",
    revision: 1,
    layout: roles.length === 0 ? "plain" : "repeating",
    repeat: roles.length === 0 ? null : { width: 600, height: 600 },
    sizeState: roles.length === 0 ? "unknown" : "known",
    finish: finishSchema.parse(finish),
    maps: roles.map(mapOf),
  };
}

/** What a value needs beside it, to be seen at all. */
const BESIDE: Partial<Record<FinishField, Partial<Finish>>> = {
  coatRoughness: { coatWeight: 1 },
  coatIor: { coatWeight: 1 },
  coatColor: { coatWeight: 1 },
  fuzzColor: { fuzzWeight: 1 },
  subsurfaceColor: { subsurfaceWeight: 1 },
  translucencyWeight: { thinWalled: true },
  translucencyColor: { thinWalled: true, translucencyWeight: 0.5 },
  transmissionColor: { transmissionWeight: 1 },
  transmissionDepthMm: { transmissionWeight: 1 },
  emissionColor: { emissionNits: 100 },
  opacityThreshold: { opacityMode: "cut-out" },
};

function another(field: FinishField): Finish[FinishField] {
  const facts = FINISH_VALUES[field];
  if (facts.kind === "color") return "#ccaa33";
  if (facts.kind === "text") return "honed";
  if (facts.kind === "range") return [0.6, 0.75];
  if (facts.kind === "switch") return true;
  if (facts.kind === "choice")
    return facts.choices.find((choice) => choice !== facts.otherwise) as Finish[FinishField];
  const [from, to] = facts.slider;
  const neutral = facts.neutral ?? from;
  return neutral + ((neutral < to ? to : from) - neutral) * 0.6;
}

const TEXTURED: Role[] = ROLES.filter(
  (role) => !["gloss", "bump", "reference", "wear_mask", "environment"].includes(role),
);
const SURFACES: [string, Role[], Partial<Finish>][] = [
  ["a material with every map", TEXTURED, {}],
  ["one with a colour and an opacity map alone", ["base_color", "geometry_opacity"], {}],
  ["a plain one", [], { color: "#a06040" }],
];

/** What reaches the renderer, without the words about it. */
async function delivered(plan: MaterialPlan, finish: Finish): Promise<string> {
  const { files, settings, steps, container } = plan;
  const written =
    container &&
    (await containerKind(container.kind).write(
      {
        name: "Slate",
        fileName: "slate",
        repeat: plan.material.repeat,
        finish,
        heightMm: heightAmplitude(finish, plan.material.repeat).mm,
      },
      files
        .map((file) => ({
          ...containerImage(file),
          fileName: `${file.role}.png`,
          read: async () => new Uint8Array(8),
          format: "png",
        }))
        .map((image) => (image.role === "base_color" ? { ...image, opacity: "smooth" as const } : image)),
    ));
  return JSON.stringify([
    files.map(({ image, operations }) => [image, operations]),
    settings,
    steps,
    written && written.map(({ bytes }) => Buffer.from(bytes).toString("latin1")),
  ]);
}

describe.each(PROFILES)("for $name", (profile) => {
  describe.each(SURFACES)("%s", (_, roles, given) => {
    test.each(FINISH_FIELDS)("%s is carried, or it is said that it is not", async (field) => {
      const beside = { ...given, ...BESIDE[field] };
      const before = material(roles, beside);
      const after = material(roles, { ...beside, [field]: another(field) });
      const [planBefore, planAfter] = [before, after].map((one) =>
        planConversion(one, profile, { maxPixels: 16 }),
      );
      const isCarried =
        (await delivered(planBefore, before.finish)) !== (await delivered(planAfter, after.finish));
      const isSaid = planAfter.notCarried.some((words) => words.startsWith(`${FINISH_VALUES[field].name} `));
      // What is lost by being reduced is nobody's loss where there is no roughness map to take it up, or no normals are shown.
      const takesNormals = profile.outputs.some(
        (one) => one.kind === "map" && one.role === "geometry_normal",
      );
      if (field === "lostRelief" && !isCarried)
        expect(takesNormals && roles.includes("specular_roughness")).toBe(false);
      else if (
        profile.delivers !== "images" &&
        containerKind(profile.delivers).inSecond?.(field) &&
        isCarried
      )
        expect(planAfter.notCarried.join()).toMatch(/only the MaterialX surface/);
      else expect([field, isCarried !== isSaid]).toEqual([field, true]);
    });
  });

  test("what changes nothing changes nothing, bit for bit, and is not spoken of", async () => {
    const plain = material(TEXTURED, {});
    const base = planConversion(plain, profile, { maxPixels: 16 });
    expect(base.notCarried).toEqual([]);
    for (const field of FINISH_FIELDS) {
      const facts = FINISH_VALUES[field];
      const neutral =
        facts.kind === "range"
          ? [0, 1]
          : facts.kind === "switch"
            ? false
            : "neutral" in facts
              ? facts.neutral
              : undefined;
      if (neutral === undefined) continue;
      const same = planConversion(material(TEXTURED, { [field]: neutral }), profile, { maxPixels: 16 });
      expect({ ...same, material: base.material }).toEqual(base);
    }
  });
});

test("a value that another one is needed for says so", () => {
  const said = (finish: Partial<Finish>, roles: Role[] = ["base_color"]) =>
    planConversion(material(roles, finish), glossPathTracer).notCarried;
  expect(said({ coatRoughness: 0.3 })).toEqual(["coat roughness 0.3: there is no coat."]);
  expect(said({ heightMiddle: 0.2 })).toEqual(["height middle 0.2: there is no height map."]);
  expect(said({ roughness: 0.3 }, ["base_color", "gloss"])).toEqual([
    "roughness 0.3: the roughness map says it.",
  ]);
  expect(said({ tint: "#ff0000" }, ["geometry_normal"])).toEqual([
    "tint #ff0000: there is no colour that it could change.",
  ]);
  expect(said({ fuzzWeight: 0.5 })).toEqual(["fuzz 0.5: this renderer has no input for it."]);
  expect(said({ translucencyWeight: 0.5 })).toEqual([
    "translucency 0.5: only a thin sheet lets light out at its other side.",
  ]);
});

test("what one file has a place for and would not show is said: the colour of what is seen through a thin sheet", () => {
  const pane = { color: "#ffffff", transmissionWeight: 1, transmissionColor: "#88ccaa" };
  expect(planConversion(material([], pane), gltf).notCarried).toEqual([]);
  expect(planConversion(material([], { ...pane, thinWalled: true }), gltf).notCarried).toEqual([
    "transmission colour #88ccaa: this renderer has no input for it.",
  ]);
});

test("lengths are entered in the renderer's unit, and the step names what is to be entered", () => {
  const glass = { transmissionWeight: 1, transmissionDepthMm: 25, thinWalled: true };
  const plan = planConversion(material([], { ...glass, color: "#ffffff" }), glossPathTracer);
  expect(plan.settings).toMatchObject({
    "transmission depth": 2.5,
    "transmission amount": 1,
    "thin sheet": true,
  });
  expect(plan.steps.at(-1)).toBe(
    "Enter from settings.json: transmission amount, transmission depth, thin sheet.",
  );
  const relief = planConversion(
    material(["base_color", "height"], { heightAmplitudeMm: 12, heightMiddle: 0.3 }),
    glossPathTracer,
  );
  expect(relief.settings).toMatchObject({ "height amount": 1.2, "height middle": 0.3 });
  expect(relief.steps.join(" ")).toContain("amount 1.2 cm around the middle at 0.3");
});

test("a plain colour is adjusted like a map", () => {
  const plan = planConversion(
    material([], { color: "#808080", tint: "#ff8000", roughnessScale: 0.5 }),
    glossPathTracer,
  );
  expect(plan.settings["base color"]).toBe("#803d00");
  expect(plan.settings.gloss).toBe(0.75);
  expect(DEFAULT_FINISH.roughness).toBe(0.5);
});

test("every value has facts that fit the schema: what a slider offers can be saved", () => {
  for (const field of FINISH_FIELDS) {
    const facts = FINISH_VALUES[field];
    expect(facts.says).toMatch(/^[A-Z0-9].*\.$/);
    if (facts.kind !== "number") continue;
    const [from, to] = facts.slider;
    for (const value of [from, to, facts.neutral ?? from])
      expect([field, finishSchema.safeParse({ [field]: value }).success]).toEqual([field, true]);
  }
});
