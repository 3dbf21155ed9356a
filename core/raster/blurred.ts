import { forward, inverse } from "#core/raster/fft";
import type { Plane } from "#core/raster/plane";

/** Convolved with a Gaussian of a standard deviation in pixels, the image continuing at its other side. */
export function blurred(plane: Plane, sigma: number): Plane {
  const spectrum = forward(plane);
  const { width, height, data } = spectrum;
  const factor = (k: number, side: number) => {
    const f = (k > side / 2 ? k - side : k) / side;
    return Math.exp(-2 * (Math.PI * sigma * f) ** 2);
  };
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const w = factor(x, width) * factor(y, height);
      data[(y * width + x) * 2] *= w;
      data[(y * width + x) * 2 + 1] *= w;
    }
  return inverse(spectrum);
}
