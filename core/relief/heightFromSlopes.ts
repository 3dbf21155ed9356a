import { forward, inverse } from "#core/raster/fft";
import type { Plane } from "#core/raster/plane";
import type { Slopes } from "#core/relief/slopes";

/**
 * The relief whose slopes come nearest to the given ones, in pixels of height around 0, for an image that repeats
 * (Frankot and Chellappa 1988). Sides are powers of two.
 * @param derivative "central": undoes central differences to the last bit; "spectral": undoes the true derivative, and does
 *   not blow up the noise of the finest detail, where the central difference sees nothing
 */
export function heightFromSlopes({ p, q }: Slopes, derivative: "central" | "spectral" = "central"): Plane {
  const frequency = (k: number, side: number) => {
    const angle = (2 * Math.PI * (k > side / 2 ? k - side : k)) / side;
    if (derivative === "central") return Math.sin(angle);
    // The highest frequency has no sign, and so no derivative.
    return 2 * k === side ? 0 : angle;
  };
  const { width, height } = p;
  const [fp, fq] = [forward(p), forward(q)];
  const data = new Float64Array(width * height * 2);
  for (let y = 0; y < height; y++) {
    const wy = frequency(y, height);
    for (let x = 0; x < width; x++) {
      const wx = frequency(x, width);
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
