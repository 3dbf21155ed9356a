import { describe, expect, test } from "@jest/globals";
import { carryOut } from "#core/convert/carryOut";
import type { MaterialPlan, PlannedFile } from "#core/convert/materialPlan";
import { planConversion } from "#core/convert/plan";
import { planSchema } from "#core/convert/planSchema";
import { profileSchema } from "#core/convert/profile";
import { glossPathTracer } from "#core/convert/profiles/glossPathTracer";
import { gltf } from "#core/convert/profiles/gltf";
import { packedWalkthrough } from "#core/convert/profiles/packedWalkthrough";
import { finishSchema, WEAR_FITS, type Finish } from "#core/finish/finish";
import type { MaterialMap, MaterialState, WornLayer } from "#core/finish/material";
import { WEAR_EFFECTS, type WearEffect, type WearLayer } from "#core/finish/wear";
import { createRaster, maxValue, type Raster } from "#core/raster/raster";
import { isColorRole, type Role } from "#core/roles/roles";

const PROFILES = [glossPathTracer, packedWalkthrough, gltf];
const SIDE = 32;

const mapOf = (role: Role, side = SIDE, bitDepth: 8 | 16 = 8): MaterialMap => ({
  role,
  sha256: role.padEnd(64, "0"),
  channel: "color",
  fileName: `${role}.png`,
  normalDirection: role === "geometry_normal" ? "+Y" : null,
  width: side,
  height: side,
  bitDepth,
  channels: isColorRole(role) || role === "geometry_normal" ? 3 : 1,
});

function worn(layer: Partial<WearLayer>, over: Partial<WornLayer> = {}): WornLayer {
  return {
    layer: {
      material: "0b0e3c8e-6f0a-4a0e-9d51-0b62b1f8a001",
      revision: 1,
      strength: 0.5,
      polarity: "light",
      effect: "rougher",
      on: true,
      ...(layer.effect === "tint" && { tint: "#ffffff" }),
      ...((layer.effect === "cut-in" || layer.effect === "stand-out") && { amountMm: 2 }),
      ...layer,
    },
    code: "W1",
    name: "Scuffs",
    layout: "repeating",
    repeat: { width: 400, height: 400 },
    sizeState: "known",
    mask: mapOf("wear_mask"),
    ...over,
  };
}

const FULL: Role[] = [
  "base_color",
  "specular_roughness",
  "base_metalness",
  "geometry_normal",
  "height",
  "ambient_occlusion",
];

const material = (roles: Role[], wear: WornLayer[], over: Partial<MaterialState> = {}): MaterialState => ({
  id: "1",
  code: "M1",
  name: "Slate",
  fileName: "slate-1",
  revision: 1,
  layout: roles.length === 0 ? "plain" : "repeating",
  repeat: roles.length === 0 ? null : { width: 600, height: 600 },
  sizeState: roles.length === 0 ? "unknown" : "known",
  finish: finishSchema.parse(roles.length === 0 ? { color: "#a06040" } : { heightAmplitudeMm: 10 }),
  maps: roles.map((role) => mapOf(role)),
  wear,
  ...over,
});

/** Every map is mid-grey, normals are flat, and the mask is white in its left half. */
async function read(map: MaterialMap): Promise<Raster> {
  const out = createRaster(
    map.width,
    map.height,
    map.channels as Raster["channels"],
    map.bitDepth === 16 ? 16 : 8,
  );
  const most = maxValue(out);
  out.data.fill(Math.round(most / 2));
  if (map.role === "geometry_normal") for (let i = 2; i < out.data.length; i += 3) out.data[i] = most;
  if (map.role === "wear_mask")
    for (let i = 0; i < out.data.length; i++) out.data[i] = i % map.width < map.width / 2 ? most : 0;
  return out;
}

const made = ({ image }: PlannedFile) => carryOut(image, read, { wrap: true });
const fileOf = (plan: MaterialPlan, role: string) => plan.files.find((file) => file.role === role)!;
const at = ({ width, channels, data, bitDepth }: Raster, x: number, y: number, channel = 0) =>
  data[(y * width + x) * channels + channel] / maxValue({ bitDepth });

describe.each(PROFILES)("wear for $name", (profile) => {
  describe.each(WEAR_EFFECTS)("that is %s", (effect) => {
    test.each([
      ["a material with every map", FULL],
      ["one with a colour alone", ["base_color"] as Role[]],
      ["a plain one", [] as Role[]],
    ])("changes what is delivered of %s, or it is said that it cannot", async (_, roles) => {
      const bare = planConversion(material(roles, []), profile);
      const plan = planConversion(material(roles, [worn({ effect })]), profile);
      const isSaid = plan.notCarried.some((words) => words.startsWith("wear “Scuffs”"));
      const pixels = async (one: MaterialPlan) =>
        Promise.all(one.files.map(async (file) => [file.path, [...(await made(file)).data]]));
      const isCarried = JSON.stringify(await pixels(plan)) !== JSON.stringify(await pixels(bare));
      expect(isCarried).toBe(!isSaid);
      expect(planSchema.parse(JSON.parse(JSON.stringify(plan)))).toEqual(JSON.parse(JSON.stringify(plan)));
    });
  });

  test("that is off, or has no strength, leaves the plan as it is without it", () => {
    const wear = [worn({ strength: 0 }), worn({ on: false, effect: "tint" })];
    expect(planConversion(material(FULL, wear), profile)).toEqual(
      planConversion(material(FULL, []), profile),
    );
  });

  test("says what its fit changes", () => {
    for (const wearFit of WEAR_FITS.filter((fit) => fit !== "balance"))
      for (const effect of ["cut-in", "tint"] as WearEffect[]) {
        const finish: Finish = finishSchema.parse({ wearFit, heightAmplitudeMm: 10 });
        // 600 over 352: three repeats are nearly right, seven are right, one is far off.
        const wear = [worn({ effect }, { repeat: { width: 352, height: 352 } })];
        const plan = planConversion(material(FULL, wear, { finish }), profile);
        const before = planConversion(material(FULL, wear), profile);
        const isCarried = JSON.stringify(plan.files) !== JSON.stringify(before.files);
        const isSaid = plan.notCarried.some((words) => words.startsWith("fit where baked"));
        expect([wearFit, effect, isCarried !== isSaid]).toEqual([wearFit, effect, true]);
      }
  });
});

describe("baked wear", () => {
  const tint = worn({ effect: "tint", strength: 1 });

  test("lies over several repeats of the material at its own size, and every map repeats as often", async () => {
    const plan = planConversion(material(FULL, [tint]), glossPathTracer);
    expect(plan.material.repeat).toEqual({ width: 1200, height: 1200 });
    expect(plan.settings).toMatchObject({ width: 120, height: 120 });
    for (const file of plan.files) expect([file.role, file.width, file.height]).toEqual([file.role, 64, 64]);
    expect(plan.warnings.join(" ")).toContain("2 × 2 repeats of the material");
    // White from 0 to 200 mm of every 400: 1200 mm are 64 px.
    const color = await made(fileOf(plan, "base_color"));
    const whites = Array.from({ length: 64 }, (_, x) => at(color, x, 10) > 0.6);
    const changes = whites.filter((white, x) => x > 0 && white !== whites[x - 1]).length;
    expect(changes).toBe(5);
    expect(whites.filter(Boolean).length / 64).toBeCloseTo(0.5, 1);
  });

  test("is laid on before occlusion darkens it, in linear light", async () => {
    const half = worn({ effect: "tint", strength: 0.5 }, { repeat: { width: 600, height: 600 } });
    const plan = planConversion(material(["base_color", "ambient_occlusion"], [half]), glossPathTracer);
    const color = await made(fileOf(plan, "base_color"));
    const linear = (code: number) => ((code + 0.055) / 1.055) ** 2.4;
    const grey = linear(128 / 255);
    // (grey halfway to white) × occlusion of 128/255; grey × occlusion beside it.
    expect(linear(at(color, 8, 8))).toBeCloseTo(((grey + 1) / 2) * (128 / 255), 2);
    expect(linear(at(color, 24, 8))).toBeCloseTo(grey * (128 / 255), 2);
  });

  test("cuts into the height in millimetres, which then goes deeper", async () => {
    const cut = worn(
      { effect: "cut-in", amountMm: 5, strength: 0.4 },
      { repeat: { width: 600, height: 600 } },
    );
    const plan = planConversion(
      material(["base_color", "height"], [cut], { maps: [mapOf("base_color"), mapOf("height", SIDE, 16)] }),
      glossPathTracer,
    );
    // 10 mm about the middle, and 2 mm more below: from −7 to 5.
    expect(plan.settings["height amount"]).toBe(1.2);
    expect(plan.settings["height middle"]).toBeCloseTo(7 / 12, 6);
    const height = await made(fileOf(plan, "height"));
    const mm = (x: number) => at(height, x, 8) * 12 - 7;
    expect(mm(24)).toBeCloseTo(0, 3);
    expect(mm(8)).toBeCloseTo(-2, 3);
    expect(plan.steps.join(" ")).toContain("amount 1.2 cm");
  });

  test.each(["+Y", "-Y"] as const)(
    "adds its slopes to normals whose green points %s",
    async (normalDirection) => {
      const profile = profileSchema.parse({ ...glossPathTracer, normalDirection });
      const ridge = worn(
        { effect: "stand-out", amountMm: 20, strength: 1, turn: 90 },
        { repeat: { width: 600, height: 600 } },
      );
      for (const roles of [["base_color", "geometry_normal"], ["base_color"]] as Role[][]) {
        const normal = await made(
          fileOf(planConversion(material(roles, [ridge]), profile), "geometry_normal"),
        );
        // Turned clockwise, its left half lies above: the ridge ends half-way down, and falls off downwards there.
        const edge = at(normal, 8, 16, 1) * 2 - 1;
        expect(Math.sign(edge)).toBe(normalDirection === "+Y" ? -1 : 1);
        expect(Math.abs(edge)).toBeGreaterThan(0.2);
        expect(at(normal, 8, 16) * 2 - 1).toBeCloseTo(0, 2);
        expect(at(normal, 8, 8, 2)).toBeCloseTo(1, 2);
      }
    },
  );

  test("of a renderer that gets less than 16 bits is the same relief in fewer steps", async () => {
    const ridge = worn({ effect: "stand-out", amountMm: 5 }, { repeat: { width: 600, height: 600 } });
    const plan = planConversion(material(["base_color", "geometry_normal"], [ridge]), packedWalkthrough);
    const normal = fileOf(plan, "geometry_normal");
    expect([normal.bitDepth, (await made(normal)).bitDepth]).toEqual([8, 8]);
  });

  test("over a plain colour makes images of that colour, which repeat as the wear does", async () => {
    const plan = planConversion(material([], [tint]), glossPathTracer);
    expect(plan.files.map(({ role }) => role)).toEqual(["base_color"]);
    expect(plan.material.repeat).toEqual({ width: 400, height: 400 });
    const color = await made(plan.files[0]);
    const codes = (x: number) => [0, 1, 2].map((channel) => Math.round(at(color, x, 4, channel) * 255));
    expect(codes(8)).toEqual([255, 255, 255]);
    expect(codes(24)).toEqual([0xa0, 0x60, 0x40]);
    expect(plan.steps.join(" ")).not.toContain("there are no images");
    expect(plan.notCarried).toEqual([]);
    const rougher = planConversion(material([], [worn({})]), glossPathTracer);
    expect([rougher.files.map(({ role }) => role), rougher.notCarried]).toEqual([["gloss"], []]);
    // Laid on by the renderer, it leaves the colour to be entered.
    const layered = planConversion(material([], [worn({})]), packedWalkthrough);
    expect(layered.files.map(({ role }) => role)).toEqual(["wear_mask"]);
    expect(layered.steps.join(" ")).toContain("Enter the colour and the roughness");
  });

  test("over what is placed once keeps its size, and over what has no size says what it took", () => {
    const odd = worn({ effect: "tint" }, { repeat: { width: 333, height: 333 } });
    const placed = planConversion(material(FULL, [odd], { layout: "placed" }), glossPathTracer);
    expect(placed.material.repeat).toEqual({ width: 600, height: 600 });
    expect(placed.warnings.join(" ")).not.toContain("too");
    const unsized = material(FULL, [odd], { repeat: null, sizeState: "unknown" });
    const plan = planConversion(unsized, glossPathTracer);
    expect(plan.warnings.join(" ")).toContain("as if the material began again after 1000 × 1000 mm");
    expect(plan.material.repeat).toBeNull();
    const guess = worn({ effect: "tint" }, { repeat: null, sizeState: "unknown" });
    expect(planConversion(material(FULL, [guess]), gltf).warnings.join(" ")).toContain(
      "The size of the wear “Scuffs” is assumed: 1000 × 1000 mm.",
    );
  });

  test("says how far its size is off, and keeps within what the renderer takes", () => {
    const odd = worn({ effect: "cut-in" }, { repeat: { width: 470, height: 470 } });
    const finish = finishSchema.parse({ wearFit: "pixels" });
    const one = planConversion(material(FULL, [odd], { finish }), packedWalkthrough);
    expect(one.warnings.join(" ")).toContain("27.7 % too large in width");
    const limited = planConversion(material(FULL, [odd]), glossPathTracer, { maxPixels: 48 });
    for (const { width } of limited.files) expect(width).toBeLessThanOrEqual(50);
    expect(limited.warnings.join(" ")).toContain("% of the pixels per metre");
  });

  test("of ten layers is made in their order", async () => {
    const layers = Array.from({ length: 10 }, (_, i) =>
      worn({ effect: "tint", strength: 1, tint: i === 9 ? "#102030" : "#ffffff" }),
    );
    const color = await made(fileOf(planConversion(material(FULL, layers), gltf), "base_color"));
    expect(Math.round(at(color, 4, 4) * 255)).toBe(0x10);
  });
});

describe("wear that a renderer lays on by itself", () => {
  test("is a map of its own at its own size, light where its marks are, and the material keeps its repeat", async () => {
    const dust = worn(
      { effect: "tint", polarity: "dark", tint: "#c8b89a", turn: 90, start: { x: 50, y: 0 } },
      { repeat: { width: 1500, height: 750 } },
    );
    const plan = planConversion(material(FULL, [dust, worn({ effect: "smoother" })]), packedWalkthrough);
    expect(plan.material.repeat).toEqual({ width: 600, height: 600 });
    const maps = plan.files.filter(({ role }) => role === "wear_mask");
    expect(maps.map(({ path }) => path.replace(/^.*_/, ""))).toEqual(["wear-1.png", "wear-2.png"]);
    const [first] = await Promise.all(maps.map(made));
    expect([at(first, 4, 4), at(first, 28, 4)]).toEqual([0, 1]);
    expect(plan.settings).toMatchObject({
      "wear 1 effect": "tint",
      "wear 1 strength": 0.5,
      "wear 1 width": 1.5,
      "wear 1 height": 0.75,
      "wear 1 colour": "#c8b89a",
      "wear 1 turned clockwise by, degrees": 90,
      "wear 1 begins to the right at": 0.05,
      "wear 2 effect": "smoother",
    });
    expect(plan.steps.join(" ")).toContain("Lay each wear map over the material");
  });

  test("is baked all the same where it cannot lay that kind on", () => {
    const plan = planConversion(
      material(FULL, [worn({ effect: "cut-in" }), worn({ effect: "rougher" })]),
      packedWalkthrough,
    );
    expect(plan.files.filter(({ role }) => role === "wear_mask")).toHaveLength(1);
    expect(fileOf(plan, "geometry_normal").operations.join(" ")).toContain("wear W1 cut-in 0.5");
    expect(plan.material.repeat).toEqual({ width: 1200, height: 1200 });
  });
});
