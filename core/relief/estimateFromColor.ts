import { blurred } from "#core/raster/blurred";
import { lightnessOf } from "#core/raster/lightness";
import { deviationOf, meanOf, resample, type Plane } from "#core/raster/plane";
import { createRaster, type Raster } from "#core/raster/raster";
import { resize } from "#core/raster/resize";
import { transformSize } from "#core/relief/transformSize";

/** What is slow is light and not relief: the standard deviation of the blur that is taken off, as a share of the image. */
const SLOW = 1 / 12;
/** Fine grain, as a share of the image. */
const FINE = 1 / 256;
/** So many deviations to either side fill the range. */
const RANGE = 2.5;

/**
 * A guess at the relief behind a picture: its lightness without what changes slowly. A picture does not know its relief;
 * this serves where nothing better is to be had.
 * @param fine 0: only the coarse, 1: all of the grain
 * @returns 16 bits, 0.5 where the picture is as light as its surroundings
 */
export function heightFromColor(
  base: Raster,
  { darkIsDeep, fine }: { darkIsDeep: boolean; fine: number },
): Raster {
  const light = lightness(base);
  const slow = blurred(light, SLOW * light.width);
  const coarse = blurred(light, FINE * light.width);
  const relief: Plane = {
    ...light,
    data: light.data.map((v, i) => fine * v + (1 - fine) * coarse.data[i] - slow.data[i]),
  };
  const scale = (darkIsDeep ? 1 : -1) / (2 * RANGE * Math.max(1e-6, deviationOf(relief)));
  const out = createRaster(light.width, light.height, 1, 16);
  for (let i = 0; i < out.data.length; i++)
    out.data[i] = Math.round(65535 * clamp(0.5 + relief.data[i] * scale));
  return resize(out, base.width, base.height, { values: "data", wrap: true });
}

/**
 * A guess at the roughness behind a picture: a level for the whole, varied by how light it is against its surroundings.
 * @returns 8 bits
 */
export function roughnessFromColor(
  base: Raster,
  { level, variation, darkIsRough }: { level: number; variation: number; darkIsRough: boolean },
): Raster {
  const light = lightness(base);
  const slow = blurred(light, SLOW * light.width);
  const detail: Plane = { ...light, data: light.data.map((v, i) => v - slow.data[i]) };
  const mean = meanOf(detail);
  const scale = ((darkIsRough ? -1 : 1) * variation) / (2 * Math.max(1e-6, deviationOf(detail)));
  const out = createRaster(light.width, light.height, 1, 8);
  for (let i = 0; i < out.data.length; i++)
    out.data[i] = Math.round(255 * clamp(level + (detail.data[i] - mean) * scale));
  return resize(out, base.width, base.height, { values: "data", wrap: true });
}

function lightness(base: Raster): Plane {
  const { width, height } = transformSize(base);
  return resample(lightnessOf(base), width, height);
}

const clamp = (v: number) => Math.min(1, Math.max(0, v));
