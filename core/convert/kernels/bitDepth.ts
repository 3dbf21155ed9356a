import { createRaster, type Raster } from "#core/raster/raster";

/** Offsets of an 8 × 8 ordered dither (Bayer 1973), −0.5..0.5: the same image always gives the same result. */
const BAYER = (() => {
  let matrix = [[0]];
  while (matrix.length < 8) {
    const n = matrix.length;
    matrix = Array.from({ length: 2 * n }, (_, y) =>
      Array.from(
        { length: 2 * n },
        (_, x) =>
          4 * matrix[y % n][x % n] +
          [
            [0, 2],
            [3, 1],
          ][Math.floor(y / n)][Math.floor(x / n)],
      ),
    );
  }
  return Float32Array.from(matrix.flat(), (v) => (v + 0.5) / 64 - 0.5);
})();

/** 16 to 8 bits, rounded to nearest; dithered on demand, as a height map needs it against terraces. */
export function toEightBits(raster: Raster, dither: boolean): Raster {
  if (raster.bitDepth === 8) return raster;
  const { width, height, channels, data } = raster;
  const out = createRaster(width, height, channels, 8);
  const [to, length] = [out.data, out.data.length];
  if (!dither) {
    const nearest = Uint8Array.from({ length: 65536 }, (_, code) => Math.floor(code / 257 + 0.5));
    for (let i = 0; i < length; i++) to[i] = nearest[data[i]];
    return out;
  }
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const offset = BAYER[(y % 8) * 8 + (x % 8)] + 0.5;
      for (let c = 0; c < channels; c++, i++)
        to[i] = Math.min(255, Math.max(0, Math.floor(data[i] / 257 + offset)));
    }
  return out;
}

/** 8 to 16 bits: v × 257, so that 0 and full stay 0 and full. */
export function toSixteenBits(raster: Raster): Raster {
  if (raster.bitDepth === 16) return raster;
  const out = createRaster(raster.width, raster.height, raster.channels, 16);
  const [from, to, length] = [raster.data, out.data, raster.data.length];
  for (let i = 0; i < length; i++) to[i] = from[i] * 257;
  return out;
}
