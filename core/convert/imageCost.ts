import type { PlannedFile } from "#core/convert/materialPlan";

/** What an image takes, in bytes that are encoded: a normal map counts thrice as much as a height. */
export function imageCost({ width, height, bitDepth, image, encoding, role }: PlannedFile): number {
  const isGrey = image.kind === "map" && encoding === "linear" && role !== "geometry_normal";
  return width * height * (bitDepth / 8) * (isGrey ? 1 : 3);
}
