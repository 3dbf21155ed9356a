import { rasterLike, type Raster } from "#core/raster/raster";

/**
 * A repeating image that begins elsewhere: what was at the left edge lies so far to the right, what was at the top so far
 * down. Exact: no sample changes.
 * @param right share of the width, whole pixels of it; @param down share of the height
 */
export function rolled(raster: Raster, right: number, down: number): Raster {
  const { width, height, channels, data } = raster;
  const out = rasterLike(raster);
  const dx = wrap(Math.round(right * width), width) * channels;
  const dy = wrap(Math.round(down * height), height);
  const row = width * channels;
  for (let y = 0; y < height; y++) {
    const from = y * row;
    const to = ((y + dy) % height) * row;
    out.data.set(data.subarray(from, from + row - dx), to + dx);
    out.data.set(data.subarray(from + row - dx, from + row), to);
  }
  return out;
}

const wrap = (value: number, by: number) => ((value % by) + by) % by;
