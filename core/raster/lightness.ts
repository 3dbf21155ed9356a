import { linearToLab } from "#core/raster/lab";
import type { Plane } from "#core/raster/plane";
import { maxValue, type Raster } from "#core/raster/raster";
import { linearTable } from "#core/raster/srgb";

/** L* of a colour image, 0..100; of a grey one its code, spread over the same range. */
export function lightnessOf(raster: Raster): Plane {
  const { width, height, channels, data } = raster;
  const table = linearTable(raster.bitDepth);
  const out = new Float32Array(width * height);
  for (let i = 0, o = 0; o < out.length; i += channels, o++)
    out[o] =
      channels < 3
        ? (100 * data[i]) / maxValue(raster)
        : linearToLab(table[data[i]], table[data[i + 1]], table[data[i + 2]])[0];
  return { width, height, data: out };
}
