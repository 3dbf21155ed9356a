import { checkSameSize, createRaster, rasterLike, type Raster } from "#core/raster/raster";

// Arrays and lengths have names of their own in these loops: looked up for every sample they cost most of the time.

/** One channel as an image of its own. */
export function extractChannel(raster: Raster, channel: number): Raster {
  const out = rasterLike(raster, 1);
  const [from, to, length, step] = [raster.data, out.data, out.data.length, raster.channels];
  for (let i = 0, s = channel; i < length; i++, s += step) to[i] = from[s];
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
  const [to, length] = [out.data, out.data.length];
  for (let i = 0, s = 0; i < length; i++, s += channels)
    to[i] = (2126 * data[s] + 7152 * data[s + 1] + 722 * data[s + 2]) / 10000 + 0.5;
  return out;
}

/** The first three channels, or the first one; an image of two channels is grey with a fourth-channel mask. */
export function dropAlpha(raster: Raster): Raster {
  if (raster.channels === 1 || raster.channels === 3) return raster;
  if (raster.channels === 2) return extractChannel(raster, 0);
  const out = rasterLike(raster, 3);
  const [from, to, length] = [raster.data, out.data, raster.data.length];
  for (let s = 0, o = 0; s < length; s += 4, o += 3) {
    to[o] = from[s];
    to[o + 1] = from[s + 1];
    to[o + 2] = from[s + 2];
  }
  return out;
}

/** Three equal channels from one. */
export function greyToRgb(raster: Raster): Raster {
  if (raster.channels >= 3) return raster;
  const out = rasterLike(raster, 3);
  const [from, to, length, step] = [raster.data, out.data, out.data.length, raster.channels];
  for (let i = 0, o = 0; o < length; i += step, o += 3) to[o] = to[o + 1] = to[o + 2] = from[i];
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
    if (typeof part === "number") fill(out.data, channel, Math.round(part * max));
    else interleave(part, out.data, channel);
  });
  return out;
}

function fill(into: Raster["data"], channel: number, code: number): void {
  const { length } = into;
  for (let o = channel; o < length; o += 3) into[o] = code;
}

function interleave({ data, channels }: Raster, into: Raster["data"], channel: number): void {
  const { length } = into;
  for (let o = channel, i = 0; o < length; o += 3, i += channels) into[o] = data[i];
}
