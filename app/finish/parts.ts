import type { Rgb } from "#core/shade/rgb";
import { linearTable } from "#core/raster/srgb";

/** A marked part, in mm from where the view began, so that it stays on its place when the view is moved. */
export interface Part {
  x: number;
  y: number;
  width: number;
  height: number;
}

/** How a canvas lies on the surface. */
export interface OnCanvas {
  width: number;
  height: number;
  mmPerPx: number;
  /** Of the view, in mm from where it began. */
  middle: { x: number; y: number };
}

/** The same in pixels of the canvas, as far as it is on it; undefined where that is nothing. */
export function partOnCanvas(part: Part, { width, height, mmPerPx, middle }: OnCanvas): Part | undefined {
  const left = Math.max(0, Math.round((part.x - middle.x) / mmPerPx + width / 2));
  const top = Math.max(0, Math.round((part.y - middle.y) / mmPerPx + height / 2));
  const right = Math.min(width, Math.round((part.x + part.width - middle.x) / mmPerPx + width / 2));
  const bottom = Math.min(height, Math.round((part.y + part.height - middle.y) / mmPerPx + height / 2));
  return right > left && bottom > top
    ? { x: left, y: top, width: right - left, height: bottom - top }
    : undefined;
}

/** Two corners of the canvas as a part. */
export function partBetween(
  a: { x: number; y: number },
  b: { x: number; y: number },
  { width, height, mmPerPx, middle }: OnCanvas,
): Part {
  const real = (value: number, length: number, at: number) => (value - length / 2) * mmPerPx + at;
  return {
    x: real(Math.min(a.x, b.x), width, middle.x),
    y: real(Math.min(a.y, b.y), height, middle.y),
    width: Math.abs(a.x - b.x) * mmPerPx,
    height: Math.abs(a.y - b.y) * mmPerPx,
  };
}

/** The mean of pixels in linear light; what is not covered does not count. @param pixels with four channels */
export function meanOfPixels(pixels: Uint8ClampedArray): Rgb | undefined {
  const toLinear = linearTable(8);
  const sums = [0, 0, 0];
  let count = 0;
  for (let i = 0; i < pixels.length; i += 4) {
    if (pixels[i + 3] === 0) continue;
    count++;
    for (let c = 0; c < 3; c++) sums[c] += toLinear[pixels[i + c]];
  }
  return count === 0 ? undefined : [sums[0] / count, sums[1] / count, sums[2] / count];
}
