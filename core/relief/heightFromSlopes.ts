import { forward, inverse } from "#core/raster/fft";
import type { Plane } from "#core/raster/plane";
import type { Slopes } from "#core/relief/slopes";

/**
 * The relief whose slopes come nearest to the given ones, in pixels of height around 0, for an image that repeats
 * (Frankot and Chellappa 1988; the derivative is the central difference, so that it undoes `gradientOf`).
 * Sides are powers of two.
 */
export function heightFromSlopes({ p, q }: Slopes): Plane {
  const { width, height } = p;
  const [fp, fq] = [forward(p), forward(q)];
  const data = new Float64Array(width * height * 2);
  for (let y = 0; y < height; y++) {
    const wy = Math.sin((2 * Math.PI * y) / height);
    for (let x = 0; x < width; x++) {
      const wx = Math.sin((2 * Math.PI * x) / width);
      const length = wx * wx + wy * wy;
      if (length < 1e-12) continue;
      const i = (y * width + x) * 2;
      // (−i wx P − i wy Q) / (wx² + wy²)
      data[i] = (wx * fp.data[i + 1] + wy * fq.data[i + 1]) / length;
      data[i + 1] = -(wx * fp.data[i] + wy * fq.data[i]) / length;
    }
  }
  return inverse({ width, height, data });
}
