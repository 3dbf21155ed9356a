import { createRaster, type Raster } from "#core/raster/raster";

/** An image beside and below itself. */
export function tile(raster: Raster, across: number, down: number): Raster {
  const { width, height, channels, bitDepth, data } = raster;
  const out = createRaster(width * across, height * down, channels, bitDepth);
  const row = width * channels;
  for (let y = 0; y < out.height; y++) {
    const from = (y % height) * row;
    const line = data.subarray(from, from + row);
    for (let x = 0; x < across; x++) out.data.set(line, (y * across + x) * row);
  }
  return out;
}
