import type { Sharp } from "sharp";
import type { Raster } from "#core/raster/raster";

/**
 * The pixels of a libvips pipeline, at a bit depth that is named: libvips drops to 8 bits without a word unless the 16-bit space
 * is asked for.
 */
export async function toRaster(
  image: Sharp,
  { grey, bitDepth }: { grey: boolean; bitDepth: 8 | 16 },
): Promise<Raster> {
  const deep = bitDepth === 16;
  const { data, info } = await image
    .toColourspace(deep ? (grey ? "grey16" : "rgb16") : grey ? "b-w" : "srgb")
    .raw({ depth: deep ? "ushort" : "uchar" })
    .toBuffer({ resolveWithObject: true });
  return {
    width: info.width,
    height: info.height,
    channels: info.channels as Raster["channels"],
    bitDepth,
    data: deep ? new Uint16Array(data.buffer, data.byteOffset, data.length / 2) : data,
  };
}
