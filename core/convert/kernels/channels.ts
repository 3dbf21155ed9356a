import { checkSameSize, createRaster, rasterLike, type Raster } from "#core/raster/raster";

/** One channel as an image of its own. */
export function extractChannel(raster: Raster, channel: number): Raster {
  const out = rasterLike(raster, 1);
  for (let i = 0, s = channel; i < out.data.length; i++, s += raster.channels) out.data[i] = raster.data[s];
  return out;
}

/**
 * One channel from three, by their luminance (Rec. 709): equal channels keep their number, and coloured ones are weighed as an
 * eye would.
 */
export function toGrey(raster: Raster): Raster {
  if (raster.channels < 3) return extractChannel(raster, 0);
  const out = rasterLike(raster, 1);
  const { data, channels } = raster;
  for (let i = 0, s = 0; i < out.data.length; i++, s += channels)
    out.data[i] = Math.round((2126 * data[s] + 7152 * data[s + 1] + 722 * data[s + 2]) / 10000);
  return out;
}

/** The first three channels, or the first one; an image of two channels is grey with a fourth-channel mask. */
export function dropAlpha(raster: Raster): Raster {
  if (raster.channels === 1 || raster.channels === 3) return raster;
  if (raster.channels === 2) return extractChannel(raster, 0);
  const out = rasterLike(raster, 3);
  for (let s = 0, o = 0; s < raster.data.length; s += 4, o += 3)
    for (let c = 0; c < 3; c++) out.data[o + c] = raster.data[s + c];
  return out;
}

/** Three equal channels from one. */
export function greyToRgb(raster: Raster): Raster {
  if (raster.channels >= 3) return raster;
  const out = rasterLike(raster, 3);
  for (let i = 0, o = 0; o < out.data.length; i += raster.channels, o += 3)
    out.data[o] = out.data[o + 1] = out.data[o + 2] = raster.data[i];
  return out;
}

/** Three images of one channel and equal size and depth, or constants 0..1, as red, green and blue. */
export function pack(parts: [Raster | number, Raster | number, Raster | number]): Raster {
  const images = parts.filter((part): part is Raster => typeof part !== "number");
  if (images.length === 0) throw new RangeError("Packing needs at least one image.");
  for (const image of images) checkSameSize(images[0], image);
  const out = createRaster(images[0].width, images[0].height, 3, images[0].bitDepth);
  const max = out.bitDepth === 16 ? 65535 : 255;
  parts.forEach((part, channel) => {
    for (let o = channel, i = 0; o < out.data.length; o += 3, i++)
      out.data[o] = typeof part === "number" ? Math.round(part * max) : part.data[i * part.channels];
  });
  return out;
}
