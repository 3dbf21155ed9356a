import { createRaster, type Raster } from "#core/raster/raster";
import type { Plane } from "#core/raster/plane";

/** A height map over the whole range of 16 bits. */
export interface SpreadHeight {
  raster: Raster;
  /** Difference between value 0 and full, in the unit of what came in. */
  amplitude: number;
  /** The value at which 0 of what came in lies. */
  middle: number;
}

/** Spreads a relief over the range of 16 bits; a flat one lies in the middle. */
export function spreadHeight({ width, height, data }: Plane): SpreadHeight {
  let [low, high] = [Infinity, -Infinity];
  for (const v of data) {
    if (v < low) low = v;
    if (v > high) high = v;
  }
  const raster = createRaster(width, height, 1, 16);
  const amplitude = high - low;
  if (amplitude < 1e-9)
    return { raster: { ...raster, data: raster.data.fill(32768) }, amplitude: 0, middle: 0.5 };
  for (let i = 0; i < data.length; i++) raster.data[i] = Math.round(((data[i] - low) / amplitude) * 65535);
  return { raster, amplitude, middle: Math.min(1, Math.max(0, -low / amplitude)) };
}
