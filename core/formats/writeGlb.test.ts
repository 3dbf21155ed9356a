import { describe, expect, test } from "@jest/globals";
import { WebIO } from "@gltf-transform/core";
import { KHRTextureTransform, type Transform } from "@gltf-transform/extensions";
import validator from "gltf-validator";
import sharp from "sharp";
import { finishSchema } from "#core/finish/finish";
import { GLB_EXTENSIONS } from "#core/formats/glbValues";
import { readGltf } from "#core/formats/readGltf";
import { writeGlb, type GlbInput } from "#core/formats/writeGlb";

const io = new WebIO().registerExtensions([KHRTextureTransform, ...GLB_EXTENSIONS]);

const png = async (channels: 3 | 4) => ({
  bytes: new Uint8Array(
    await sharp({
      create: { width: 4, height: 4, channels, background: { r: 90, g: 128, b: 255, alpha: 0.5 } },
    })
      .png()
      .toBuffer(),
  ),
  mimeType: "image/png" as const,
});

const finish = finishSchema.parse({ color: "#80ff00", roughness: 0.3, ior: 1.45 });

async function validate(input: GlbInput) {
  const bytes = await writeGlb(input);
  const { issues } = await validator.validateBytes(bytes);
  return {
    bytes,
    problems: issues.messages.filter((message: { severity: number }) => message.severity <= 1),
  };
}

describe("writeGlb", () => {
  test.each([
    ["cut-out", "MASK"],
    ["smooth", "BLEND"],
    [undefined, "OPAQUE"],
  ] as const)("an opacity that is %s is %s", async (opacity, mode) => {
    const { bytes, problems } = await validate({
      name: "Lace",
      repeat: null,
      finish,
      baseColor: { ...(await png(4)), ...(opacity && { opacity }) },
    });
    expect(problems).toEqual([]);
    expect((await io.readBinary(bytes)).getRoot().listMaterials()[0].getAlphaMode()).toBe(mode);
  });

  test("WebP is there by its extension, which the file asks for, and is taken in again", async () => {
    const bytes = new Uint8Array(
      await sharp({ create: { width: 4, height: 4, channels: 3, background: "#806040" } })
        .webp({ lossless: true })
        .toBuffer(),
    );
    const image = { bytes, mimeType: "image/webp" as const };
    const repeat = { width: 500, height: 250 };
    const written = await validate({ name: "Clay", repeat, finish, baseColor: image, normal: image });
    expect(written.problems).toEqual([]);
    const { json } = await io.binaryToJSON(written.bytes);
    expect(json.extensionsRequired).toContain("EXT_texture_webp");
    expect(json.textures!.every(({ source }) => source === undefined)).toBe(true);
    const { materials, problems } = await readGltf("a.glb", written.bytes, async () => undefined);
    expect(problems).toEqual([]);
    expect(materials[0].maps.map(({ role }) => role)).toEqual(["base_color", "geometry_normal"]);
    expect(materials[0].maps[0].image).toMatchObject({ bytes });
    expect(materials[0].repeat!.width).toBeCloseTo(500, 3);
  });

  test("every value that it has an input for is written, and the file stays valid", async () => {
    const all = finishSchema.parse({
      color: "#a06040",
      tint: "#ffffff",
      roughnessScale: 0.5,
      specularWeight: 0.6,
      specularColor: "#ffeecc",
      coatWeight: 0.8,
      coatRoughness: 0.2,
      fuzzWeight: 0.3,
      fuzzColor: "#8080ff",
      transmissionWeight: 0.9,
      transmissionColor: "#ccffee",
      transmissionDepthMm: 40,
      thinWalled: false,
      emissionNits: 250,
      emissionColor: "#ff8000",
      opacityMode: "cut-out",
      opacityThreshold: 0.3,
    });
    const baseColor = { ...(await png(4)), opacity: "smooth" as const };
    const { bytes, problems } = await validate({ name: "All", repeat: null, finish: all, baseColor });
    expect(problems).toEqual([]);
    const json = (await io.binaryToJSON(bytes)).json;
    const [material] = json.materials!;
    expect(material).toMatchObject({ alphaMode: "MASK", alphaCutoff: 0.3 });
    expect(material.pbrMetallicRoughness).toMatchObject({ roughnessFactor: 0.25 });
    expect(material.extensions).toMatchObject({
      KHR_materials_specular: { specularFactor: 0.6 },
      KHR_materials_clearcoat: { clearcoatFactor: 0.8, clearcoatRoughnessFactor: 0.2 },
      KHR_materials_sheen: { sheenRoughnessFactor: 0.5 },
      KHR_materials_transmission: { transmissionFactor: 0.9 },
      KHR_materials_volume: { attenuationDistance: 0.04 },
      KHR_materials_emissive_strength: { emissiveStrength: 250 },
    });
    const thin = await validate({
      name: "Thin",
      repeat: null,
      finish: { ...all, thinWalled: true },
      baseColor,
    });
    expect(thin.problems).toEqual([]);
    expect((await io.readBinary(thin.bytes)).getRoot().listMaterials()[0].getDoubleSided()).toBe(true);
  });

  test("a material with every map is valid, without errors and warnings, and one unit of UV is one metre", async () => {
    const { bytes, problems } = await validate({
      name: "Paving",
      repeat: { width: 812, height: 824 },
      finish,
      baseColor: { ...(await png(4)), opacity: "cut-out" },
      packed: { ...(await png(3)), hasOcclusion: true },
      normal: await png(3),
      emission: await png(3),
    });
    expect(problems).toEqual([]);

    const document = await io.readBinary(bytes);
    const material = document.getRoot().listMaterials()[0];
    const transform = material.getBaseColorTextureInfo()!.getExtension<Transform>("KHR_texture_transform")!;
    expect(transform.getScale()[0]).toBeCloseTo(1 / 0.812, 6);
    expect(transform.getScale()[1]).toBeCloseTo(1 / 0.824, 6);
    expect(material.getNormalTextureInfo()!.getExtension("KHR_texture_transform")).not.toBeNull();

    const primitive = document.getRoot().listMeshes()[0].listPrimitives()[0];
    const position = primitive.getAttribute("POSITION")!;
    const uv = primitive.getAttribute("TEXCOORD_0")!;
    const [a, b] = [0, 3].map((i) => ({ at: position.getElement(i, []), uv: uv.getElement(i, []) }));
    expect(b.at[0] - a.at[0]).toBe(b.uv[0] - a.uv[0]);
    // The image's top left corner lies at the sample's: V runs down while y runs up.
    expect(a.at[1] - b.at[1]).toBe(b.uv[1] - a.uv[1]);
    expect(a.uv).toEqual([0, 0]);
    expect(primitive.getAttribute("TANGENT")).not.toBeNull();
  });

  test("a plain material is valid and carries linear factors", async () => {
    const { bytes, problems } = await validate({ name: "Lime", repeat: null, finish });
    expect(problems).toEqual([]);
    const material = (await io.readBinary(bytes)).getRoot().listMaterials()[0];
    expect(material.getBaseColorFactor()[0]).toBeCloseTo(0.2158605, 5);
    expect(material.getRoughnessFactor()).toBe(0.3);
  });
});
