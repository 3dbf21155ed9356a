import type { Plane } from "#core/raster/plane";

/** How two opposite edges of an image are laid over each other so that it repeats. */
export interface Overlap {
  /** Lines that are laid over each other; the image gets shorter by as many. */
  lines: number;
  /** How alike the two edges are there: mean squared difference against twice the variance; 1 where they are strangers. */
  misfit: number;
}

/** Least and most of the image that is given up. */
const LEAST = 1 / 24;
export const MOST_GIVEN_UP = 1 / 3;

/**
 * The overlap at which the image's right edge is most like its left edge (or its bottom like its top). In a pattern this is where
 * its modules fall onto modules, so that a whole number of them is left; in a stochastic surface any will do, and little is
 * given up.
 * @param planes what is compared, all of one size
 */
export function findOverlap(planes: Plane[], direction: "across" | "down"): Overlap {
  const [{ width, height }] = planes;
  const depth = direction === "across" ? width : height;
  const least = Math.max(2, Math.round(depth * LEAST));
  const most = Math.max(least, Math.floor(depth * MOST_GIVEN_UP));
  let best: Overlap = { lines: least, misfit: Infinity };
  for (let lines = least; lines <= most; lines++) {
    const misfit = misfitAt(planes, direction, lines);
    // A longer overlap has to be better by something: it costs a part of the image.
    const cost = 1 + (0.25 * (lines - least)) / depth;
    if (misfit * cost < best.misfit * (1 + (0.25 * (best.lines - least)) / depth)) best = { lines, misfit };
  }
  return best;
}

/** The best overlap near a guess, for an image at full size after a search in a reduced one. */
export function refineOverlap(
  planes: Plane[],
  direction: "across" | "down",
  guess: number,
  reach: number,
): Overlap {
  const [{ width, height }] = planes;
  const depth = direction === "across" ? width : height;
  let best: Overlap = { lines: guess, misfit: Infinity };
  for (
    let lines = Math.max(2, guess - reach);
    lines <= Math.min(Math.floor(depth / 2), guess + reach);
    lines++
  ) {
    const misfit = misfitAt(planes, direction, lines);
    if (misfit < best.misfit) best = { lines, misfit };
  }
  return best;
}

function misfitAt(planes: Plane[], direction: "across" | "down", lines: number): number {
  let sum = 0;
  for (const { width, height, data } of planes) {
    const across = direction === "across";
    const length = across ? height : width;
    const depth = across ? width : height;
    const [step, lineStep] = across ? [width, 1] : [1, width];
    // Enough of a large image to tell.
    const stride = Math.max(1, Math.floor(length / 256));
    const lineStride = Math.max(1, Math.floor(lines / 64));
    let [error, total, squares, count] = [0, 0, 0, 0];
    for (let along = 0; along < length; along += stride)
      for (let line = 0; line < lines; line += lineStride) {
        const a = data[along * step + line * lineStep];
        const b = data[along * step + (depth - lines + line) * lineStep];
        error += (a - b) ** 2;
        total += a + b;
        squares += a * a + b * b;
        count += 2;
      }
    const variance = squares / count - (total / count) ** 2;
    sum += variance > 1e-9 ? error / (count / 2) / (2 * variance) : 0;
  }
  return sum / planes.length;
}
