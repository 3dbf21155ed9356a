import { maxValue, rasterLike, type Raster } from "#core/raster/raster";

/**
 * Turns a normal map from +Y to −Y or back: green v → max − v; exact, so that twice gives the image back.
 * @param out where the result goes; may be the image itself
 */
export function flipGreen(raster: Raster, out = rasterLike(raster)): Raster {
  if (out !== raster) out.data.set(raster.data);
  const max = maxValue(raster);
  const [codes, length, step] = [out.data, out.data.length, out.channels];
  for (let i = 1; i < length; i += step) codes[i] = max - codes[i];
  return out;
}
