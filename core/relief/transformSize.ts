/** Largest side of a grid on which a relief is transformed: beyond it the memory of two spectra gets too large. */
const LARGEST = 2048;

/** The sides of powers of two that come nearest to an image, for work by Fourier transform. */
export function transformSize({ width, height }: { width: number; height: number }) {
  const side = (pixels: number) => Math.min(LARGEST, Math.max(2, 2 ** Math.round(Math.log2(pixels))));
  return { width: side(width), height: side(height) };
}
