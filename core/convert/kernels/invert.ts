import { maxValue, rasterLike, type Raster } from "#core/raster/raster";

/** v → max − v in every channel; exact, so that twice gives the image back bit for bit. */
export function invert(raster: Raster): Raster {
  const out = rasterLike(raster);
  const max = maxValue(raster);
  for (let i = 0; i < raster.data.length; i++) out.data[i] = max - raster.data[i];
  return out;
}
