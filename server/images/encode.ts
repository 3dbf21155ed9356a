import sharp, { type Sharp } from "sharp";
import type { Raster } from "#core/raster/raster";

/** libvips over an image in memory, at its own bit depth. */
export function fromRaster(raster: Raster): Sharp {
  const { width, height, channels, bitDepth, data } = raster;
  const image = sharp(data, { raw: { width, height, channels }, limitInputPixels: false });
  if (bitDepth === 8) return channels < 3 ? image.toColourspace("b-w") : image;
  return image.toColourspace(channels < 3 ? "grey16" : "rgb16");
}

/** The image as a file. 16 bits are kept in PNG and TIFF; JPEG takes 8 only, without a thinner grid for colour. */
export async function encode(raster: Raster, format: "png" | "jpeg" | "tiff"): Promise<Buffer> {
  const image = fromRaster(raster);
  switch (format) {
    case "png":
      return image.png({ compressionLevel: 6 }).toBuffer();
    case "tiff":
      return image.tiff({ compression: "deflate", predictor: "horizontal" }).toBuffer();
    case "jpeg":
      if (raster.bitDepth !== 8) throw new RangeError("A JPEG holds 8 bits.");
      return image.jpeg({ quality: 94, chromaSubsampling: "4:4:4" }).toBuffer();
  }
}
