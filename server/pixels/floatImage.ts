import { createRaster, type Raster } from "#core/raster/raster";
import { linearToSrgb } from "#core/raster/srgb";

/** Floating-point samples as they were in the file, rows from the top, channels interleaved. */
export interface FloatImage {
  width: number;
  height: number;
  channels: 1 | 3 | 4;
  data: Float32Array;
}

/** What the numbers of a floating-point image span. */
export interface FloatRange {
  min: number;
  max: number;
  /** Samples that are no number or infinite; they count as 0. */
  broken: number;
  /** Whether all colour channels hold the same numbers, as a height that was saved as a picture does. */
  grey: boolean;
}

/** The range of the colour channels. */
export function rangeOf({ channels, data }: FloatImage): FloatRange {
  let [min, max, broken] = [Infinity, -Infinity, 0];
  let grey = true;
  for (let i = 0; i < data.length; i++) {
    const place = i % channels;
    if (place === 3) continue;
    const v = data[i];
    if (place > 0 && grey && !Object.is(v, data[i - place])) grey = false;
    if (!Number.isFinite(v)) broken++;
    else {
      if (v < min) min = v;
      if (v > max) max = v;
    }
  }
  return min > max ? { min: 0, max: 0, broken, grey } : { min, max, broken, grey };
}

/**
 * Sixteen bits of a floating-point image. Colours are linear in such files and are encoded as sRGB, cut off at 1. Grey data
 * that leaves 0..1 is spread over its own range; three channels from −1 to 1 are vectors and become n = 2v − 1.
 */
export function toSixteenBits(image: FloatImage, use: "color" | "data"): Raster {
  const { width, height, channels, data } = image;
  const { min, max, grey } = rangeOf(image);
  const outside = min < -1e-4 || max > 1 + 1e-4;
  const vectors = use === "data" && !grey && min < -0.2 && max <= 1.01 && min >= -1.01;
  const spread = use === "data" && grey && outside && max > min;
  const raster = createRaster(width, height, channels, 16);
  for (let i = 0; i < data.length; i++) {
    let v = Number.isFinite(data[i]) ? data[i] : 0;
    if (!(channels === 4 && i % 4 === 3)) {
      if (vectors) v = (v + 1) / 2;
      else if (spread) v = (v - min) / (max - min);
      else if (use === "color" && channels > 1) v = linearToSrgb(Math.max(0, v));
    }
    raster.data[i] = Math.round(Math.min(1, Math.max(0, v)) * 65535);
  }
  return raster;
}

/** For a light that has no upper end: exposed so that its mean is a middle grey, rolled off, encoded as sRGB (Reinhard 2002, equation 4). */
export function toneMapped(image: FloatImage): Raster {
  const { width, height, channels, data } = image;
  const luminance = (i: number) => {
    const y = channels === 1 ? data[i] : 0.2126 * data[i] + 0.7152 * data[i + 1] + 0.0722 * data[i + 2];
    return Number.isFinite(y) ? Math.max(0, y) : 0;
  };
  let logs = 0;
  for (let i = 0; i < data.length; i += channels) logs += Math.log(1e-4 + luminance(i));
  const exposure = 0.18 / Math.exp(logs / (data.length / channels));
  const white = 8;
  const raster = createRaster(width, height, channels === 1 ? 1 : 3, 8);
  for (let i = 0, o = 0; i < data.length; i += channels)
    for (let c = 0; c < raster.channels; c++, o++) {
      const v = Math.max(0, Number.isFinite(data[i + c]) ? data[i + c] : 0) * exposure;
      raster.data[o] = Math.round(255 * linearToSrgb(Math.min(1, (v * (1 + v / white ** 2)) / (1 + v))));
    }
  return raster;
}
