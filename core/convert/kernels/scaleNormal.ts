import { maxValue, rasterLike, type Raster } from "#core/raster/raster";

/**
 * Scales the slopes of a normal map: (n_x, n_y) by `strength`, then renormalised. Not the colour.
 * @param out where the result goes; may be the image itself
 */
export function scaleNormal(raster: Raster, strength: number, out = rasterLike(raster)): Raster {
  if (out !== raster) out.data.set(raster.data);
  const max = maxValue(raster);
  for (let i = 0; i < raster.data.length; i += raster.channels) {
    const x = ((raster.data[i] / max) * 2 - 1) * strength;
    const y = ((raster.data[i + 1] / max) * 2 - 1) * strength;
    const z = (raster.data[i + 2] / max) * 2 - 1;
    const length = Math.hypot(x, y, z) || 1;
    out.data[i] = Math.round(((x / length + 1) / 2) * max);
    out.data[i + 1] = Math.round(((y / length + 1) / 2) * max);
    out.data[i + 2] = Math.round(((z / length + 1) / 2) * max);
  }
  return out;
}
