import { describe, expect, test } from "@jest/globals";
import { carryOut } from "#core/convert/carryOut";
import { planConversion } from "#core/convert/plan";
import { expectedBytes } from "#core/convert/planSummary";
import { drawingBoard } from "#core/convert/profiles/drawingBoard";
import { glossPathTracer } from "#core/convert/profiles/glossPathTracer";
import { profileSchema } from "#core/convert/profile";
import { gltf } from "#core/convert/profiles/gltf";
import { materialX } from "#core/convert/profiles/materialX";
import { packedWalkthrough } from "#core/convert/profiles/packedWalkthrough";
import { finishSchema } from "#core/finish/finish";
import type { MaterialMap, MaterialState } from "#core/finish/material";
import type { Role } from "#core/roles/roles";
import { createRaster, type Raster } from "#core/raster/raster";

const map = (role: Role, more: Partial<MaterialMap> = {}): MaterialMap => ({
  role,
  sha256: role.padEnd(64, "0"),
  channel: "color",
  fileName: `${role}.png`,
  normalDirection: role === "geometry_normal" ? "+Y" : null,
  width: 4096,
  height: 4096,
  bitDepth: 8,
  channels: role === "base_color" || role === "geometry_normal" ? 3 : 1,
  ...more,
});

const material = (maps: MaterialMap[], more: Partial<MaterialState> = {}): MaterialState => ({
  id: "7",
  code: "M0007",
  name: "Paving",
  fileName: "paving-0007",
  revision: 3,
  layout: "repeating",
  repeat: { width: 812, height: 824 },
  sizeState: "known",
  finish: finishSchema.parse({}),
  maps,
  ...more,
});

const full = [
  map("base_color"),
  map("gloss"),
  map("geometry_normal", { bitDepth: 16 }),
  map("height", { bitDepth: 16 }),
  map("ambient_occlusion", { width: 2048, height: 2048 }),
];
const operationsByRole = (plan: ReturnType<typeof planConversion>) =>
  Object.fromEntries(plan.files.map((file) => [file.role, file.operations]));

describe("planConversion", () => {
  test("gloss path tracer: occlusion multiplied in, gloss passed on, green flipped, 16-bit TIFF for data", () => {
    const plan = planConversion(material(full), glossPathTracer);
    expect(operationsByRole(plan)).toEqual({
      base_color: ["multiply ao 1"],
      gloss: [],
      geometry_normal: ["flip-green"],
      height: [],
    });
    expect(plan.files.map(({ path, bitDepth, encoding }) => [path, bitDepth, encoding])).toEqual([
      ["gloss-path-tracer-cm/paving-0007/paving-0007_color.png", 8, "srgb"],
      ["gloss-path-tracer-cm/paving-0007/paving-0007_gloss.png", 8, "linear"],
      ["gloss-path-tracer-cm/paving-0007/paving-0007_normal.tif", 16, "linear"],
      ["gloss-path-tracer-cm/paving-0007/paving-0007_height.tif", 16, "linear"],
    ]);
    expect(plan.steps[0]).toBe("Set the size of every map to 81.2 × 82.4 cm.");
    expect(plan.settings).toMatchObject({ width: 81.2, height: 82.4, unit: "cm" });
  });

  test("packed walkthrough: three roles in one image, gloss inverted, 2048 px, and the relief step", () => {
    const plan = planConversion(material(full), packedWalkthrough);
    const packed = plan.files.find((file) => file.image.kind === "packed")!;
    expect(packed).toMatchObject({
      width: 2048,
      height: 2048,
      role: "ambient_occlusion+specular_roughness+base_metalness",
    });
    expect(packed.operations).toEqual(["invert", "resize 2048", "roughen normal 1", "pack ao roughness 0"]);
    expect(operationsByRole(plan).geometry_normal).toEqual(["resize 2048", "bits 8"]);
    expect(plan.steps.join(" ")).toContain("Tell the relief input that it gets a normal map");
    expect(plan.warnings.join(" ")).toContain("height map (height.png) has no place");
  });

  test("inverts roughness for a profile that wants gloss, and flips nothing that is already −Y", () => {
    const plan = planConversion(
      material([map("specular_roughness"), map("geometry_normal", { normalDirection: "-Y" })]),
      glossPathTracer,
    );
    expect(operationsByRole(plan)).toEqual({ gloss: ["invert"], geometry_normal: ["bits 16"] });
    expect(plan.warnings.join(" ")).toContain("came with 8 bits");
  });

  test("puts opacity into the alpha of a PNG for glTF, and everything into one file", () => {
    const plan = planConversion(material([map("base_color"), map("geometry_opacity")]), gltf, {
      maxPixels: 1024,
    });
    expect(plan.container).toEqual({ path: "gltf-2/paving-0007/paving-0007.glb", kind: "glb" });
    expect(plan.files[0]).toMatchObject({ format: "png", width: 1024 });
    expect(plan.files[0].operations).toEqual(["resize 1024", "attach-opacity"]);
  });

  test("says which image its container has no place for, and refuses a profile whose format cannot hold its bits", () => {
    const [first] = gltf.outputs;
    const coat = {
      ...first,
      kind: "map" as const,
      role: "coat_weight" as const,
      slot: "coat",
      suffix: "coat",
      bitDepth: 8 as const,
    };
    const profile = profileSchema.parse({ ...gltf, outputs: [...gltf.outputs, coat] });
    const { warnings } = planConversion(material([map("base_color"), map("coat_weight")]), profile);
    expect(warnings).toContain("paving-0007_coat.jpg has no place in a GLB: it is left out of it.");
    expect(planConversion(material([map("base_color")]), profile).warnings).toEqual([]);
    const wrong = profileSchema.safeParse({ ...gltf, outputs: [{ ...coat, format: "jpeg", bitDepth: 16 }] });
    expect(wrong.error!.issues[0]).toMatchObject({
      path: ["outputs", 0, "bitDepth"],
      message: "A jpeg file does not hold 16 bits.",
    });
    const color = { ...coat, role: "base_color", format: "exr", bitDepth: 16 };
    const encoded = profileSchema.safeParse({ ...gltf, delivers: "images", outputs: [color] });
    expect(encoded.error!.issues[0]).toMatchObject({
      path: ["outputs", 0, "format"],
      message: expect.stringMatching(/holds linear numbers: colours are encoded/),
    });
  });

  test("writes JPEG files as good as the profile asks, which are estimated so, and floating point from 16 bits", () => {
    const maps = material([map("base_color"), map("height", { bitDepth: 16 })]);
    const usual = planConversion(maps, drawingBoard);
    const coarse = planConversion(maps, profileSchema.parse({ ...drawingBoard, jpegQuality: 75 }));
    expect(usual.files.every((file) => file.format === "jpeg" && file.quality === undefined)).toBe(true);
    expect(coarse.files.map(({ quality }) => quality)).toEqual(coarse.files.map(() => 75));
    expect(expectedBytes([coarse])).toBeLessThan(expectedBytes([usual]) / 2);
    const height = {
      ...{ kind: "map", slot: "h", suffix: "h", role: "height", format: "exr", bitDepth: 32 },
    };
    const deep = profileSchema.parse({ ...glossPathTracer, outputs: [height] });
    const [file] = planConversion(maps, deep).files;
    expect(file).toMatchObject({ bitDepth: 32, format: "exr", path: expect.stringMatching(/_h\.exr$/) });
    expect(file.operations).toEqual([]);
    expect(planConversion(maps, deep).warnings.filter((words) => words.includes("bits"))).toEqual([]);
    const [fromEight] = planConversion(material([map("height", { bitDepth: 8 })]), deep).files;
    expect(fromEight.operations).toEqual(["bits 16"]);
    expect(planConversion(material([map("height", { bitDepth: 8 })]), deep).warnings).toContainEqual(
      expect.stringContaining("came with 8 bits; its 32-bit file holds no more"),
    );
  });

  test("says that the size, a normal direction or a depth is unknown or assumed", () => {
    const unsure = material(
      [map("base_color"), map("geometry_normal", { normalDirection: null }), map("bump")],
      {
        repeat: null,
        sizeState: "unknown",
      },
    );
    const warnings = planConversion(unsure, glossPathTracer).warnings.join(" ");
    expect(warnings).toContain("size is unknown");
    expect(warnings).toContain("assumed to be +Y");
    expect(warnings).toContain("deep the height goes is assumed");
    expect(planConversion(material([], { sizeState: "assumed" }), gltf).warnings).toContain(
      "The size is assumed, not measured.",
    );
  });

  test.each([glossPathTracer, packedWalkthrough, gltf])(
    "without a repeat it is delivered all the same, and $id says what that means",
    (profile) => {
      const unsized = planConversion(material(full, { repeat: null, sizeState: "unknown" }), profile);
      expect(unsized.files.map(({ path }) => path)).toEqual(
        planConversion(material(full), profile).files.map(({ path }) => path),
      );
      expect(unsized.warnings.join(" ")).toContain("delivered without a real size");
      expect(unsized.settings).not.toHaveProperty("width");
      expect(unsized.steps.join(" ")).not.toMatch(/null|NaN|undefined/);
    },
  );

  test("a plain material is settings without images, in the profile's own terms", () => {
    const plain = material([], {
      layout: "plain",
      repeat: null,
      finish: finishSchema.parse({ color: "#aabbcc", roughness: 0.3 }),
    });
    const plan = planConversion(plain, glossPathTracer);
    expect(plan.files).toEqual([]);
    expect(plan.warnings).toEqual([]);
    expect(plan.settings).toMatchObject({ "base color": "#aabbcc", gloss: 0.7 });
  });
});

describe("a finish that is left to nodes of the material file", () => {
  const nodes = profileSchema.parse({ ...materialX, finishIn: "nodes" });
  const filesOf = (finish: object, maps = full, profile = nodes) => {
    const plan = planConversion(material(maps, { finish: finishSchema.parse(finish) }), profile);
    return { plan, file: (role: Role) => plan.files.find((file) => file.role === role)! };
  };

  test("is in no image, and in no image only", () => {
    const { plan, file } = filesOf({ tint: "#c0a080", warmth: 20, roughnessScale: 0.5 });
    expect(file("base_color").operations).toEqual([
      "multiply ao 1",
      "left to nodes: adjust-color tint #c0a080 warmth 20",
    ]);
    expect(file("base_color").left).toEqual({ color: { tint: "#c0a080", warmth: 20 } });
    expect(file("specular_roughness").operations).toEqual(["invert", "left to nodes: adjust-roughness 0.5"]);
    expect(file("specular_roughness").left?.roughness).toMatchObject({ scale: 0.5 });
    expect(plan.warnings.join()).not.toMatch(/worked into/);
    const worked = filesOf({ tint: "#c0a080", roughnessScale: 0.5 }, full, materialX);
    expect(worked.file("base_color").operations).toContain("adjust-color tint #c0a080");
    expect(worked.plan.files.filter(({ left }) => left)).toEqual([]);
  });

  test("is worked in all the same where something comes after it, and that is said", () => {
    const bent = filesOf({ contrast: 1.2 });
    expect(bent.file("base_color").operations).toEqual(["adjust-color contrast 1.2", "multiply ao 1"]);
    expect(bent.plan.warnings).toContain(
      "The finish of the base color is worked into its image: occlusion is multiplied over it.",
    );
    const withoutOcclusion = full.filter(({ role }) => role !== "ambient_occlusion");
    expect(filesOf({ contrast: 1.2 }, withoutOcclusion).file("base_color").left).toEqual({
      color: { contrast: 1.2 },
    });
    const reduced = filesOf(
      { roughnessScale: 0.5 },
      full,
      profileSchema.parse({ ...nodes, maxPixels: 1024 }),
    );
    expect(reduced.file("specular_roughness").left).toBeUndefined();
    expect(reduced.plan.warnings.join()).toMatch(
      /of the roughness is worked into its image: relief that is lost/,
    );
  });

  test("is asked of a MaterialX document alone", () => {
    expect(() => profileSchema.parse({ ...gltf, finishIn: "nodes" })).toThrow(
      /Only a MaterialX document has nodes/,
    );
  });
});

describe("relief that a reduced normal map loses", () => {
  const rough = [map("specular_roughness"), map("geometry_normal", { bitDepth: 16 })];
  const wordsOf = (
    maps: MaterialMap[],
    profile: Parameters<typeof planConversion>[1],
    finish = {},
    maxPixels: number | undefined = 1024,
  ) =>
    planConversion(material(maps, { finish: finishSchema.parse(finish) }), profile, { maxPixels }).files.find(
      ({ role }) => /roughness|gloss/.test(role),
    )!.operations;

  test("goes into the roughness beside it, by default, in each profile's own sense", () => {
    expect(wordsOf(rough, glossPathTracer)).toEqual(["invert", "resize 1024", "roughen normal 1"]);
    expect(wordsOf(rough, packedWalkthrough)).toContain("roughen normal 1");
    expect(wordsOf(rough, gltf)).toContain("roughen normal 1");
    expect(wordsOf(rough, glossPathTracer, { lostRelief: 0.5, normalStrength: 2 })).toContain(
      "roughen normal 2",
    );
  });

  test("stays away where it is not wanted, nothing is reduced, or there is no normal map", () => {
    const isRoughened = (...given: Parameters<typeof wordsOf>) =>
      wordsOf(...given).some((word) => word.startsWith("roughen"));
    expect(isRoughened(rough, glossPathTracer, { lostRelief: 0 })).toBe(false);
    expect(isRoughened(rough, glossPathTracer, { normalStrength: 0 })).toBe(false);
    expect(isRoughened(rough, glossPathTracer, {}, 4096)).toBe(false);
    expect(isRoughened(rough.slice(0, 1), glossPathTracer)).toBe(false);
    const [small] = [map("specular_roughness", { width: 512, height: 512 })];
    expect(isRoughened([small, rough[1]], glossPathTracer)).toBe(false);
  });

  test("is read from the normal map as it came", async () => {
    const [roughness, normal] = rough.map((one) => ({ ...one, width: 4, height: 4 }));
    const plan = planConversion(material([roughness, normal]), glossPathTracer, { maxPixels: 2 });
    const file = plan.files.find(({ role }) => role === "gloss")!;
    const read = (source: MaterialMap) => {
      const raster = createRaster(4, 4, source.channels as 1 | 3, 8);
      if (source.role === "specular_roughness") raster.data.fill(51);
      // Leaning left and right in turn: flat from afar.
      else
        raster.data.forEach((_, i) => (raster.data[i] = [Math.floor(i / 3) % 2 ? 185 : 70, 128, 242][i % 3]));
      return Promise.resolve(raster);
    };
    const gloss = await carryOut(file.image, read, { wrap: true });
    expect([gloss.width, gloss.height]).toEqual([2, 2]);
    // Roughness 0.2 and slopes of one half: (0.2⁴ + 0.25)^¼ = 0.708.
    for (const value of gloss.data) expect(Math.abs(value / 255 - (1 - 0.708))).toBeLessThan(0.01);
  });
});

describe("carryOut", () => {
  const pixels: Record<string, number[]> = {
    base_color: [200, 100, 50, 200, 100, 50],
    gloss: [10, 250],
    geometry_normal: [128, 200, 240, 128, 100, 240],
    ambient_occlusion: [255, 0],
  };
  const read = async (source: MaterialMap): Promise<Raster> => {
    const raster = createRaster(2, 1, source.channels as 1 | 3, 8);
    raster.data.set(pixels[source.role]);
    return raster;
  };
  const small = ["base_color", "gloss", "geometry_normal", "ambient_occlusion"].map((role) =>
    map(role as Role, { width: 2, height: 1 }),
  );

  test("makes the pixels that the plan says", async () => {
    const results = new Map<string, number[]>();
    for (const file of planConversion(material(small), glossPathTracer).files)
      results.set(file.role, [...(await carryOut(file.image, read, { wrap: true })).data]);
    expect(results.get("base_color")).toEqual([200, 100, 50, 0, 0, 0]);
    expect(results.get("gloss")).toEqual([10, 250]);
    expect(results.get("geometry_normal")!.map((v) => v / 257)).toEqual([128, 55, 240, 128, 155, 240]);
  });

  test("packs occlusion, inverted gloss and a constant", async () => {
    const packed = planConversion(material(small), packedWalkthrough).files.find(
      (file) => file.image.kind === "packed",
    )!;
    expect([...(await carryOut(packed.image, read, { wrap: true })).data]).toEqual([255, 245, 0, 0, 5, 0]);
  });
});
