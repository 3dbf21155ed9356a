import { WebIO, type Material, type Texture } from "@gltf-transform/core";
import {
  ALL_EXTENSIONS,
  type Clearcoat,
  type EmissiveStrength,
  type IOR,
  type Sheen,
  type Specular,
  type Transform,
  type Transmission,
  type Volume,
} from "@gltf-transform/extensions";
import { finishSchema, type Finish } from "#core/finish/finish";
import { linearToHex } from "#core/raster/srgb";

/** What a viewer of glTF 2.0 finds in a file, images still encoded. */
export interface GlbPackage {
  finish: Finish;
  /** Millimetres, where coordinates are scaled by it. */
  repeat: { width: number; height: number } | null;
  images: Partial<
    Record<"baseColor" | "packed" | "normal" | "emission", { bytes: Uint8Array; format: string }>
  >;
  hasOcclusion: boolean;
  hasOpacity: boolean;
}

/** Reads the first material of a GLB whose coordinates are metres. @throws where there is none */
export async function readGlbPackage(bytes: Uint8Array): Promise<GlbPackage> {
  const document = await new WebIO()
    .registerExtensions(ALL_EXTENSIONS)
    .readBinary(bytes as Uint8Array<ArrayBuffer>);
  const [material] = document.getRoot().listMaterials();
  if (!material) throw new RangeError("There is no material in the file.");
  const image = (texture: Texture | null) => {
    const data = texture?.getImage();
    return data ? { bytes: data, format: texture!.getMimeType().replace("image/", "") } : undefined;
  };
  const info =
    material.getBaseColorTextureInfo() ??
    material.getMetallicRoughnessTextureInfo() ??
    material.getNormalTextureInfo();
  const scale = info?.getExtension<Transform>("KHR_texture_transform")?.getScale();
  const images: GlbPackage["images"] = {};
  for (const [place, texture] of [
    ["baseColor", material.getBaseColorTexture()],
    ["packed", material.getMetallicRoughnessTexture()],
    ["normal", material.getNormalTexture()],
    ["emission", material.getEmissiveTexture()],
  ] as const) {
    const found = image(texture);
    if (found) images[place] = found;
  }
  return {
    finish: finishOf(material),
    repeat: scale ? { width: 1000 / scale[0], height: 1000 / scale[1] } : null,
    images,
    hasOcclusion: material.getOcclusionTexture() !== null,
    hasOpacity: material.getAlphaMode() !== "OPAQUE",
  };
}

function finishOf(material: Material): Finish {
  const ior = material.getExtension<IOR>("KHR_materials_ior")?.getIOR();
  const specular = material.getExtension<Specular>("KHR_materials_specular");
  const coat = material.getExtension<Clearcoat>("KHR_materials_clearcoat");
  const sheen = material.getExtension<Sheen>("KHR_materials_sheen");
  const transmission = material.getExtension<Transmission>("KHR_materials_transmission");
  const volume = material.getExtension<Volume>("KHR_materials_volume");
  const strength = material.getExtension<EmissiveStrength>("KHR_materials_emissive_strength");
  const [r, g, b] = material.getBaseColorFactor();
  const isCut = material.getAlphaMode() === "MASK";
  const fuzz = sheen?.getSheenColorFactor();
  const most = fuzz ? Math.max(...fuzz) : 0;
  return finishSchema.parse({
    normalStrength: material.getNormalScale(),
    occlusionStrength: material.getOcclusionStrength(),
    occlusionGamma: 1,
    color: linearToHex([r, g, b]),
    roughness: material.getRoughnessFactor(),
    metalness: material.getMetallicFactor(),
    ...(ior !== undefined && { ior }),
    ...(specular && {
      specularWeight: specular.getSpecularFactor(),
      specularColor: linearToHex(specular.getSpecularColorFactor()),
    }),
    ...(coat && {
      coatWeight: coat.getClearcoatFactor(),
      coatRoughness: coat.getClearcoatRoughnessFactor(),
    }),
    ...(fuzz &&
      most > 0 && {
        fuzzWeight: Math.min(1, most),
        fuzzColor: linearToHex([fuzz[0] / most, fuzz[1] / most, fuzz[2] / most]),
      }),
    ...(transmission && { transmissionWeight: transmission.getTransmissionFactor() }),
    // Without a volume the surface is a sheet: what is seen through it has the colour of its base.
    ...(transmission && !volume && { thinWalled: true, transmissionColor: linearToHex([r, g, b]) }),
    ...(volume && {
      transmissionColor: linearToHex(volume.getAttenuationColor()),
      ...(Number.isFinite(volume.getAttenuationDistance()) && {
        transmissionDepthMm: volume.getAttenuationDistance() * 1000,
      }),
    }),
    ...(material.getDoubleSided() && { thinWalled: true }),
    ...(strength && {
      emissionNits: strength.getEmissiveStrength(),
      emissionColor: linearToHex(material.getEmissiveFactor()),
    }),
    ...(isCut && { opacityMode: "cut-out", opacityThreshold: material.getAlphaCutoff() }),
  });
}
