import sharp, { type Sharp } from "sharp";
import { imageFormat, JPEG_QUALITY, type ImageFormat } from "#core/convert/imageFormats";
import type { PlannedFile } from "#core/convert/materialPlan";
import type { Raster } from "#core/raster/raster";
import { writeExr } from "#server/pixels/writeExr";

/** libvips over an image in memory, at its own bit depth. */
export function fromRaster(raster: Raster): Sharp {
  const { width, height, channels, bitDepth, data } = raster;
  const image = sharp(data, { raw: { width, height, channels }, limitInputPixels: false });
  if (bitDepth === 8) return channels < 3 ? image.toColourspace("b-w") : image;
  return image.toColourspace(channels < 3 ? "grey16" : "rgb16");
}

/** The image as a file in memory. 16 bits are kept in PNG and TIFF; JPEG takes 8 only, without a thinner grid for colour. */
export const encode = async (raster: Raster, format: ScreenFormat): Promise<Buffer> =>
  encoder(raster, format, JPEG_QUALITY).toBuffer();

export type EncodedAs = Pick<PlannedFile, "format" | "bitDepth" | "tag" | "quality">;

/** The same, written to a path as it is made: a file of hundreds of megabytes is never held whole. A profile changes no pixel of 8 bits. */
export async function encodeTo(
  path: string,
  raster: Raster,
  { format, bitDepth, tag, quality = JPEG_QUALITY }: EncodedAs,
): Promise<void> {
  if (format === "exr") return writeExr(path, raster, bitDepth === 16 ? "half" : "float");
  const image = encoder(raster, format, quality);
  await (tag === "icc" ? image.withIccProfile("srgb") : image).toFile(path);
}

/** Those that libvips writes. */
type ScreenFormat = Exclude<ImageFormat, "exr">;

/** How each format is written. */
const ENCODERS: Record<ScreenFormat, (image: Sharp, quality: number) => Sharp> = {
  png: (image) => image.png({ compressionLevel: 6 }),
  tiff: (image) => image.tiff({ compression: "deflate", predictor: "horizontal" }),
  webp: (image) => image.webp({ lossless: true }),
  jpeg: (image, quality) => image.jpeg({ quality, chromaSubsampling: "4:4:4" }),
};

function encoder(raster: Raster, format: ScreenFormat, quality: number): Sharp {
  if (!imageFormat(format).bitDepths.includes(raster.bitDepth))
    throw new RangeError(`A ${format} file does not hold ${raster.bitDepth} bits.`);
  return ENCODERS[format](fromRaster(raster), quality);
}
