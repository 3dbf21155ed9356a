import { Document, WebIO, type Material, type Texture, type TextureInfo } from "@gltf-transform/core";
import { EXTTextureWebP, KHRTextureTransform } from "@gltf-transform/extensions";
import { adjustedHex, colorAdjustment } from "#core/finish/colorAdjustment";
import { adjustedRoughness, roughnessAdjustment } from "#core/finish/roughnessAdjustment";
import { GLB_EXTENSIONS, writeGlbValues } from "#core/formats/glbValues";
import type { Finish } from "#core/finish/finish";
import type { Repeat } from "#core/length/repeat";
import { hexToLinear } from "#core/raster/srgb";

/** An encoded image for a GLB. */
export interface GlbImage {
  bytes: Uint8Array;
  /** WebP needs an extension, which the file then asks for. */
  mimeType: "image/png" | "image/jpeg" | "image/webp";
}

export interface GlbInput {
  name: string;
  /** Millimetres; without it the image is laid once over the sample. */
  repeat: Repeat | null;
  finish: Finish;
  /** sRGB; a fourth channel is opacity: a cut-out's, or one that fades. */
  baseColor?: GlbImage & { opacity?: "cut-out" | "smooth" };
  /** Red occlusion, green roughness, blue metalness. */
  packed?: GlbImage & { hasOcclusion: boolean };
  /** Tangent space, +Y. */
  normal?: GlbImage;
  emission?: GlbImage;
}

/** Side of the flat sample, in metres: large enough to show that the image repeats. */
const SAMPLE_METRES = 2;

/**
 * One GLB: a flat sample of 2 × 2 m whose texture coordinates are metres, and the material, whose
 * KHR_texture_transform scales metres to repeats. V runs down in glTF, so the image's top left corner lies
 * at the sample's top left corner. Tangents are written, as normal maps need them to be the same everywhere.
 */
export async function writeGlb(input: GlbInput): Promise<Uint8Array> {
  const document = new Document();
  document.getRoot().getAsset().generator = "Kalonomy";
  const material = makeMaterial(document, input);
  addSample(document, material, input.name);
  return new WebIO()
    .registerExtensions([KHRTextureTransform, EXTTextureWebP, ...GLB_EXTENSIONS])
    .writeBinary(document);
}

function makeMaterial(document: Document, input: GlbInput): Material {
  const { finish, baseColor, packed, normal, emission } = input;
  const material = document.createMaterial(input.name);
  const transform = document.createExtension(KHRTextureTransform);
  const scale: [number, number] = input.repeat
    ? [1000 / input.repeat.width, 1000 / input.repeat.height]
    : [1 / SAMPLE_METRES, 1 / SAMPLE_METRES];
  const texture = (name: string, image: GlbImage): Texture => {
    if (image.mimeType === "image/webp") document.createExtension(EXTTextureWebP).setRequired(true);
    return document
      .createTexture(name)
      .setImage(image.bytes as Uint8Array<ArrayBuffer>)
      .setMimeType(image.mimeType);
  };
  const place = (info: TextureInfo | null) =>
    info?.setExtension("KHR_texture_transform", transform.createTransform().setScale(scale));

  if (baseColor) {
    material.setBaseColorTexture(texture("base color", baseColor));
    place(material.getBaseColorTextureInfo());
    const isCut =
      finish.opacityMode === undefined ? baseColor.opacity === "cut-out" : finish.opacityMode === "cut-out";
    if (baseColor.opacity && isCut)
      material.setAlphaMode("MASK").setAlphaCutoff(finish.opacityThreshold ?? 0.5);
    else if (baseColor.opacity) material.setAlphaMode("BLEND");
  } else if (finish.color)
    material.setBaseColorFactor([...hexToLinear(adjustedHex(finish.color, colorAdjustment(finish))), 1]);

  if (packed) {
    const image = texture("occlusion, roughness, metalness", packed);
    material.setMetallicRoughnessTexture(image).setRoughnessFactor(1).setMetallicFactor(1);
    place(material.getMetallicRoughnessTextureInfo());
    if (packed.hasOcclusion) {
      // How strong it is, the image says already.
      material.setOcclusionTexture(image);
      place(material.getOcclusionTextureInfo());
    }
  } else
    material
      .setRoughnessFactor(adjustedRoughness(finish.roughness, roughnessAdjustment(finish)))
      .setMetallicFactor(finish.metalness);

  if (normal) {
    material.setNormalTexture(texture("normal", normal));
    place(material.getNormalTextureInfo());
  }
  if (emission) {
    material.setEmissiveTexture(texture("emission", emission)).setEmissiveFactor([1, 1, 1]);
    place(material.getEmissiveTextureInfo());
  }
  writeGlbValues(document, material, finish);
  return material;
}

/** A square in the x–y plane, centred, facing +z, textured from its top left corner. */
function addSample(document: Document, material: Material, name: string): void {
  const buffer = document.createBuffer();
  const h = SAMPLE_METRES / 2;
  const s = SAMPLE_METRES;
  const accessor = (type: "VEC2" | "VEC3" | "VEC4" | "SCALAR", values: number[]) =>
    document
      .createAccessor()
      .setType(type)
      .setArray(type === "SCALAR" ? new Uint16Array(values) : new Float32Array(values))
      .setBuffer(buffer);
  const primitive = document
    .createPrimitive()
    .setAttribute("POSITION", accessor("VEC3", [-h, h, 0, h, h, 0, -h, -h, 0, h, -h, 0]))
    .setAttribute("NORMAL", accessor("VEC3", [0, 0, 1, 0, 0, 1, 0, 0, 1, 0, 0, 1]))
    .setAttribute("TEXCOORD_0", accessor("VEC2", [0, 0, s, 0, 0, s, s, s]))
    .setIndices(accessor("SCALAR", [0, 2, 1, 1, 2, 3]))
    .setMaterial(material);
  // V runs down, so the bitangent n × t · w points up with w = 1, which is what +Y means.
  if (material.getNormalTexture())
    primitive.setAttribute("TANGENT", accessor("VEC4", [1, 0, 0, 1, 1, 0, 0, 1, 1, 0, 0, 1, 1, 0, 0, 1]));
  const mesh = document.createMesh(name).addPrimitive(primitive);
  const scene = document.createScene(name).addChild(document.createNode(name).setMesh(mesh));
  document.getRoot().setDefaultScene(scene);
}
