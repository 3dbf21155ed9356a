import type { Sharp } from "sharp";
import type { Raster } from "#core/raster/raster";
import type { ColorSpace, Samples } from "#server/pixels/colorProfile";

/** Names of libvips for the spaces, in 8 and in 16 bits. */
const SPACES = {
  grey: { 8: "b-w", 16: "grey16" },
  rgb: { 8: "srgb", 16: "rgb16" },
  cmyk: { 8: "cmyk", 16: "cmyk" },
};

/**
 * The pixels of a libvips pipeline, in a space and at a bit depth that are named: libvips drops to 8 bits without a word unless
 * the 16-bit space is asked for.
 */
export async function readSamples(
  image: Sharp,
  { space, bitDepth }: { space: ColorSpace; bitDepth: 8 | 16 },
): Promise<Samples> {
  const deep = bitDepth === 16;
  const inks = space === "cmyk" ? image.pipelineColourspace("cmyk") : image;
  const { data, info } = await inks
    .toColourspace(SPACES[space][bitDepth])
    .raw({ depth: deep ? "ushort" : "uchar" })
    .toBuffer({ resolveWithObject: true });
  return {
    width: info.width,
    height: info.height,
    channels: info.channels,
    bitDepth,
    data: deep ? new Uint16Array(data.buffer, data.byteOffset, data.length / 2) : data,
  };
}

/** The same for what is no print. */
export async function toRaster(
  image: Sharp,
  form: { space: "grey" | "rgb"; bitDepth: 8 | 16 },
): Promise<Raster> {
  return (await readSamples(image, form)) as Raster;
}
