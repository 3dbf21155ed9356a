import { maxValue, rasterLike, type Raster } from "#core/raster/raster";

/**
 * v → max − v in every channel; exact, so that twice gives the image back bit for bit.
 * @param out where the result goes; may be the image itself
 */
export function invert(raster: Raster, out = rasterLike(raster)): Raster {
  const max = maxValue(raster);
  const [from, to, length] = [raster.data, out.data, raster.data.length];
  for (let i = 0; i < length; i++) to[i] = max - from[i];
  return out;
}
