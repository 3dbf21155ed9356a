import type { ImageFormat } from "#core/convert/imageFormats";
import type { PlannedFile } from "#core/convert/materialPlan";

/** What an image takes, in bytes that are encoded: a normal map counts thrice as much as a height. */
export function imageCost({ width, height, bitDepth, image, encoding, role }: PlannedFile): number {
  const isGrey = image.kind === "map" && encoding === "linear" && role !== "geometry_normal";
  return width * height * (bitDepth / 8) * (isGrey ? 1 : 3);
}

/** How long a format takes to be encoded, against what is done to the pixels before: as counted on textures (TIFF and PNG 20 MB/s). */
const ENCODES: Record<ImageFormat, number> = { jpeg: 0.3, png: 1, tiff: 1, exr: 3, webp: 14 };

/** What an image takes to be made, of pixels and encoding: what costs twice as much takes twice as long. */
export const makingCost = (file: PlannedFile): number => imageCost(file) * (1 + ENCODES[file.format]);
