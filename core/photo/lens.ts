import type { Point } from "#core/gauge/repeat";

interface PixelSize {
  width: number;
  height: number;
}

/** Bow of a lens: the most that is offered either way, as a part of the half diagonal. */
export const MOST_BOW = 0.3;

/**
 * Where a place of the picture without bow lies in the photograph: r' = r (1 + k r²) from the middle, r in half diagonals
 * (the first radial term of Brown 1966). k < 0 pulls the corners in: a barrel.
 */
export function bowed(point: Point, size: PixelSize, k: number): Point {
  const { x, y, half } = middleOf(size);
  const [dx, dy] = [point.x - x, point.y - y];
  const by = 1 + (k * (dx * dx + dy * dy)) / (half * half);
  return { x: x + dx * by, y: y + dy * by };
}

/** The way back, by Newton's method. */
export function unbowed(point: Point, size: PixelSize, k: number): Point {
  const { x, y, half } = middleOf(size);
  const [dx, dy] = [(point.x - x) / half, (point.y - y) / half];
  const seen = Math.hypot(dx, dy);
  if (seen === 0 || k === 0) return point;
  let r = seen;
  for (let step = 0; step < 20; step++) {
    const slope = 1 + 3 * k * r * r;
    // Past this radius a barrel folds back on itself: nothing true lies there.
    if (slope <= 0.05) break;
    r -= (r * (1 + k * r * r) - seen) / slope;
  }
  return { x: x + (dx / seen) * r * half, y: y + (dy / seen) * r * half };
}

/** How far the middle of three points lies beside the straight line through the others, in pixels, after the bow is taken out. */
export function bend([a, b, c]: readonly [Point, Point, Point], size: PixelSize, k: number): number {
  const [p, q, r] = [a, b, c].map((point) => unbowed(point, size, k));
  const length = Math.hypot(r.x - p.x, r.y - p.y);
  return length === 0 ? 0 : ((r.x - p.x) * (q.y - p.y) - (r.y - p.y) * (q.x - p.x)) / length;
}

/**
 * The bow with which what is known to be straight bends least, in the mean square.
 * @param lines three points each: the ends and a place between
 */
export function bowOf(lines: (readonly [Point, Point, Point])[], size: PixelSize): number {
  const cost = (k: number) => lines.reduce((sum, line) => sum + bend(line, size, k) ** 2, 0);
  // Golden section: the cost has one valley within what lenses do.
  const part = (Math.sqrt(5) - 1) / 2;
  let [from, to] = [-MOST_BOW, MOST_BOW];
  for (let step = 0; step < 60; step++) {
    const [a, b] = [to - part * (to - from), from + part * (to - from)];
    if (cost(a) < cost(b)) to = b;
    else from = a;
  }
  return (from + to) / 2;
}

const middleOf = ({ width, height }: PixelSize) => ({
  x: width / 2,
  y: height / 2,
  half: Math.hypot(width, height) / 2,
});
