import { Matrix, SingularValueDecomposition } from "ml-matrix";
import type { Point } from "#core/gauge/repeat";

/** A projective map of the plane, rows first: (x, y, 1) → h · (x, y, 1), divided by its third part. */
export type Homography = readonly [number, number, number, number, number, number, number, number, number];

/** Points that no projection can connect; the message says why. */
export class HomographyError extends Error {
  override name = "HomographyError";
}

/**
 * The projection that takes points to others, with the least algebraic error where there are more than four: the
 * normalised direct linear transform (Hartley and Zisserman 2004, algorithm 4.2).
 * @throws {HomographyError} with fewer than four pairs, or where three of four lie on a line
 */
export function homographyOf(from: Point[], to: Point[]): Homography {
  if (from.length < 4 || from.length !== to.length)
    throw new HomographyError(`Four pairs of points or more are needed; ${from.length} came.`);
  const [a, b] = [normalised(from), normalised(to)];
  const rows = a.points.flatMap(({ x, y }, i) => {
    const { x: u, y: v } = b.points[i];
    return [
      [0, 0, 0, -x, -y, -1, v * x, v * y, v],
      [x, y, 1, 0, 0, 0, -u * x, -u * y, -u],
    ];
  });
  // With four pairs the null vector is wanted, which only a full set of right vectors has.
  while (rows.length < 9) rows.push(Array<number>(9).fill(0));
  const svd = new SingularValueDecomposition(new Matrix(rows), {
    computeLeftSingularVectors: false,
    computeRightSingularVectors: true,
  });
  const values = svd.diagonal;
  if (!(values[7] > 1e-7 * values[0])) throw new HomographyError("Three of the points lie on one line.");
  const h = svd.rightSingularVectors.getColumn(8);
  // Where points lie on a line on one side only, the plane would be folded onto a line.
  if (Math.abs(determinantOf(h)) < 1e-7) throw new HomographyError("Three of the points lie on one line.");
  const { scale: s, x: cx, y: cy } = a;
  const { scale: t, x: dx, y: dy } = b;
  const forward = [s, 0, -s * cx, 0, s, -s * cy, 0, 0, 1];
  const back = [1 / t, 0, dx, 0, 1 / t, dy, 0, 0, 1];
  return scaled(product(product(back, h), forward));
}

/** Where a point goes. */
export function project(h: Homography, { x, y }: Point): Point {
  const w = h[6] * x + h[7] * y + h[8];
  return { x: (h[0] * x + h[1] * y + h[2]) / w, y: (h[3] * x + h[4] * y + h[5]) / w };
}

/** The way back. @throws {HomographyError} where the projection folds the plane onto a line */
export function inverted(h: Homography): Homography {
  const [a, b, c, d, e, f, g, i, j] = h;
  const cofactors = [
    e * j - f * i,
    c * i - b * j,
    b * f - c * e,
    f * g - d * j,
    a * j - c * g,
    c * d - a * f,
    d * i - e * g,
    b * g - a * i,
    a * e - b * d,
  ];
  if (Math.abs(determinantOf(h)) < 1e-30)
    throw new HomographyError("The projection folds the picture onto a line.");
  return scaled(cofactors);
}

function determinantOf([a, b, c, d, e, f, g, i, j]: ArrayLike<number> & Iterable<number>): number {
  return a * (e * j - f * i) - b * (d * j - f * g) + c * (d * i - e * g);
}

function product(a: ArrayLike<number>, b: ArrayLike<number>): number[] {
  return Array.from(
    { length: 9 },
    (_, i) =>
      a[i - (i % 3)] * b[i % 3] + a[i - (i % 3) + 1] * b[(i % 3) + 3] + a[i - (i % 3) + 2] * b[(i % 3) + 6],
  );
}

/** With a last entry of 1 where it has one, so that the numbers can be read. */
function scaled(h: number[]): Homography {
  const by = Math.abs(h[8]) > 1e-12 ? h[8] : Math.hypot(...h);
  return h.map((v) => v / by) as unknown as Homography;
}

/** Moved and scaled so that the points lie around 0 at a mean distance of √2, as the method wants for its precision. */
function normalised(points: Point[]): { points: Point[]; scale: number; x: number; y: number } {
  const x = points.reduce((sum, p) => sum + p.x, 0) / points.length;
  const y = points.reduce((sum, p) => sum + p.y, 0) / points.length;
  const distance = points.reduce((sum, p) => sum + Math.hypot(p.x - x, p.y - y), 0) / points.length;
  if (!(distance > 0)) throw new HomographyError("All points are the same.");
  const scale = Math.SQRT2 / distance;
  return { points: points.map((p) => ({ x: (p.x - x) * scale, y: (p.y - y) * scale })), scale, x, y };
}
