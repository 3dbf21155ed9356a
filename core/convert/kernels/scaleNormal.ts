import { maxValue, rasterLike, type Raster } from "#core/raster/raster";

/**
 * Scales the slopes of a normal map: (n_x, n_y) by `strength`, then renormalised. Not the colour.
 * @param out where the result goes; may be the image itself
 */
export function scaleNormal(raster: Raster, strength: number, out = rasterLike(raster)): Raster {
  if (out !== raster) out.data.set(raster.data);
  const max = maxValue(raster);
  const [codes, end, step] = [out.data, out.data.length, out.channels];
  for (let i = 0; i < end; i += step) {
    const x = ((codes[i] / max) * 2 - 1) * strength;
    const y = ((codes[i + 1] / max) * 2 - 1) * strength;
    const z = (codes[i + 2] / max) * 2 - 1;
    const length = Math.sqrt(x * x + y * y + z * z) || 1;
    codes[i] = Math.round(((x / length + 1) / 2) * max);
    codes[i + 1] = Math.round(((y / length + 1) / 2) * max);
    codes[i + 2] = Math.round(((z / length + 1) / 2) * max);
  }
  return out;
}
