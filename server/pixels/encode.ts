import sharp, { type Sharp } from "sharp";
import type { Raster } from "#core/raster/raster";

/** libvips over an image in memory, at its own bit depth. */
export function fromRaster(raster: Raster): Sharp {
  const { width, height, channels, bitDepth, data } = raster;
  const image = sharp(data, { raw: { width, height, channels }, limitInputPixels: false });
  if (bitDepth === 8) return channels < 3 ? image.toColourspace("b-w") : image;
  return image.toColourspace(channels < 3 ? "grey16" : "rgb16");
}

type ImageFormat = "png" | "jpeg" | "tiff";

/** The image as a file in memory. 16 bits are kept in PNG and TIFF; JPEG takes 8 only, without a thinner grid for colour. */
export const encode = async (raster: Raster, format: ImageFormat): Promise<Buffer> =>
  encoder(raster, format).toBuffer();

/** The same, written to a path as it is made: a file of hundreds of megabytes is never held whole. */
export async function encodeTo(path: string, raster: Raster, format: ImageFormat): Promise<void> {
  await encoder(raster, format).toFile(path);
}

function encoder(raster: Raster, format: ImageFormat): Sharp {
  const image = fromRaster(raster);
  switch (format) {
    case "png":
      return image.png({ compressionLevel: 6 });
    case "tiff":
      return image.tiff({ compression: "deflate", predictor: "horizontal" });
    case "jpeg":
      if (raster.bitDepth !== 8) throw new RangeError("A JPEG holds 8 bits.");
      return image.jpeg({ quality: 94, chromaSubsampling: "4:4:4" });
  }
}
