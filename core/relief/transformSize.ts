/** Largest side of a grid on which a relief is transformed: beyond it the memory of two spectra gets too large. */
const LARGEST = 2048;

/** The next sides of powers of two, for work by Fourier transform: on a smaller grid, steep relief would get flatter. */
export function transformSize({ width, height }: { width: number; height: number }) {
  const side = (pixels: number) => Math.min(LARGEST, Math.max(2, 2 ** Math.ceil(Math.log2(pixels))));
  return { width: side(width), height: side(height) };
}
