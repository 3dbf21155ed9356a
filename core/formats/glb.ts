import type { FinishField } from "#core/finish/finish";
import type { ContainerImage, ContainerKind, EncodedImage } from "#core/formats/container";
import type { GlbImage, GlbInput } from "#core/formats/writeGlb";
import type { Role } from "#core/roles/roles";

/** The channels of glTF's one packed image. */
const PACKED: readonly Role[] = ["ambient_occlusion", "specular_roughness", "base_metalness"];

/** The place of an image in a glTF material. */
function placeOf({
  role,
  channels,
}: ContainerImage): "packed" | "baseColor" | "normal" | "emission" | undefined {
  if (channels) return channels.every((one, at) => one === null || one === PACKED[at]) ? "packed" : undefined;
  if (role === "base_color") return "baseColor";
  if (role === "geometry_normal") return "normal";
  return role === "emission_color" ? "emission" : undefined;
}

/** What glTF 2.0 and its ratified extensions have an input for, beside images. */
const GLB_VALUES = [
  "ior",
  "specularWeight",
  "specularColor",
  "coatWeight",
  "coatRoughness",
  "fuzzWeight",
  "fuzzColor",
  "transmissionWeight",
  "transmissionColor",
  "transmissionDepthMm",
  "thinWalled",
  "emissionNits",
  "emissionColor",
  "opacityMode",
  "opacityThreshold",
] as const satisfies FinishField[];

export const GLB: ContainerKind = {
  name: "GLB",
  extension: "glb",
  images: "inside",
  formats: ["png", "jpeg", "webp"],
  hasThreshold: true,
  carries(field, finish) {
    // A thin sheet has no volume there, and nothing that would tint what is seen through it but its base colour.
    if (finish.thinWalled && (field === "transmissionColor" || field === "transmissionDepthMm")) return false;
    return GLB_VALUES.some((one) => one === field);
  },
  takes: (image) => placeOf(image) !== undefined,
  async write(material, images) {
    const { name, repeat, finish } = material;
    const input: GlbInput = { name, repeat, finish };
    for (const image of images) {
      const place = placeOf(image);
      if (place === "packed")
        input.packed = { ...(await glbImage(image)), hasOcclusion: image.channels![0] !== null };
      else if (place === "baseColor")
        input.baseColor = { ...(await glbImage(image)), ...(image.opacity && { opacity: image.opacity }) };
      else if (place) input[place] = await glbImage(image);
    }
    // Loaded where a GLB is written, and not where one is planned.
    const { writeGlb } = await import("#core/formats/writeGlb");
    const bytes = await writeGlb(input);
    return [{ extension: "glb", mediaType: "model/gltf-binary", bytes }];
  },
};

const glbImage = async ({ read, format }: EncodedImage): Promise<GlbImage> => ({
  bytes: await read(),
  mimeType: `image/${format}` as GlbImage["mimeType"],
});
