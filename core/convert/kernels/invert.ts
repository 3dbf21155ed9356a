import { maxValue, rasterLike, type Raster } from "#core/raster/raster";

/**
 * v → max − v in every channel; exact, so that twice gives the image back bit for bit.
 * @param out where the result goes; may be the image itself
 */
export function invert(raster: Raster, out = rasterLike(raster)): Raster {
  const max = maxValue(raster);
  for (let i = 0; i < raster.data.length; i++) out.data[i] = max - raster.data[i];
  return out;
}
