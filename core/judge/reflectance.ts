import type { Plane } from "#core/raster/plane";
import type { Raster } from "#core/raster/raster";
import { linearTable } from "#core/raster/srgb";

/** Shares of a surface that reflect less, or more, than real ones do. */
export interface Reflectance {
  dark: number;
  light: number;
}

/**
 * Surfaces reflect between black velvet's 0.4 % and fresh snow's 90 %; dark veneers, soot and black lacquer lie at 1 to 3 %. That
 * holds for a place and not for each pixel: the pores of a veneer and the grain of asphalt are darker than their surface, and are
 * no fault.
 */
const DARKEST = 0.004;
const LIGHTEST = 0.9;

/** Places along the longer side. */
const PLACES = 32;

/**
 * Means over a grid of places, read as colours (linear luminance, Rec. 709). What a cut-out leaves out does not count.
 * @param opacity 0..1, of any size; without it a fourth channel that is a cut-out's
 */
export function readReflectance(raster: Raster, opacity?: Plane): Reflectance {
  const { width, height } = raster;
  const place = Math.max(1, Math.ceil(Math.max(width, height) / PLACES));
  const [across, down] = [Math.ceil(width / place), Math.ceil(height / place)];
  const [sums, counts] = [new Float64Array(across * down), new Float64Array(across * down)];
  const shown = opacity ? shownBy(opacity, raster) : shownByAlpha(raster);
  const luminance = luminanceOf(raster);
  // Enough pixels of each place for its mean.
  const step = Math.max(1, Math.floor(place / 24));
  for (let y = 0; y < height; y += step)
    for (let x = 0; x < width; x += step) {
      if (!shown(x, y)) continue;
      const at = Math.floor(y / place) * across + Math.floor(x / place);
      sums[at] += luminance((y * width + x) * raster.channels);
      counts[at]++;
    }
  let [dark, light, all] = [0, 0, 0];
  for (let at = 0; at < sums.length; at++) {
    if (counts[at] === 0) continue;
    const mean = sums[at] / counts[at];
    all++;
    if (mean < DARKEST) dark++;
    else if (mean > LIGHTEST) light++;
  }
  return all === 0 ? { dark: 0, light: 0 } : { dark: dark / all, light: light / all };
}

function luminanceOf({ data, channels, bitDepth }: Raster): (offset: number) => number {
  const table = linearTable(bitDepth);
  return channels < 3
    ? (o) => table[data[o]]
    : (o) => 0.2126 * table[data[o]] + 0.7152 * table[data[o + 1]] + 0.0722 * table[data[o + 2]];
}

function shownBy(opacity: Plane, { width, height }: Raster): (x: number, y: number) => boolean {
  return (x, y) =>
    opacity.data[
      Math.floor((y * opacity.height) / height) * opacity.width + Math.floor((x * opacity.width) / width)
    ] >= 0.5;
}

/** A fourth channel that is nearly all empty or full is a cut-out's; another one hides nothing. */
function shownByAlpha({ width, channels, bitDepth, data }: Raster): (x: number, y: number) => boolean {
  if (channels % 2 === 1) return () => true;
  const full = bitDepth === 16 ? 65535 : 255;
  let ends = 0;
  for (let i = channels - 1; i < data.length; i += channels)
    if (data[i] < 0.02 * full || data[i] > 0.98 * full) ends++;
  if (ends < (0.95 * data.length) / channels) return () => true;
  return (x, y) => data[(y * width + x) * channels + channels - 1] >= full / 2;
}
