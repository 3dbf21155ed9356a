import type { Vector } from "#core/shade/vector";

/** What was seen of a matt surface that leans. */
export interface Leaning {
  normal: Vector;
  light: number;
}

/** A lamp and even light that explain what was seen, as well as any do. */
export interface LampFit {
  /** To the lamp; x to the right, y up. */
  lamp: Vector;
  /** Root of the mean square of what is left unexplained, against the mean light. */
  error: number;
  /** What the light makes of a surface. */
  seen(normal: Vector): number;
}

const AROUND_STEPS = 48;
const ABOVE = [10, 18, 26, 34, 42, 50, 58, 66, 74, 82];

/**
 * Finds from where a lamp must shine: Lambert's law and light from all around, which an upright surface has half of; by least
 * squares for each of a grid of directions, neither light less than none.
 */
export function fitLamp(seen: readonly Leaning[]): LampFit {
  const mean = seen.reduce((sum, { light }) => sum + light, 0) / seen.length;
  let best: LampFit | undefined;
  for (let step = 0; step < AROUND_STEPS; step++)
    for (const above of ABOVE) {
      const [around, up] = [(step / AROUND_STEPS) * 2 * Math.PI, (above * Math.PI) / 180];
      const lamp: Vector = [Math.cos(up) * Math.cos(around), Math.cos(up) * Math.sin(around), Math.sin(up)];
      const features = (normal: Vector) => [
        1 + normal[2],
        Math.max(0, normal[0] * lamp[0] + normal[1] * lamp[1] + normal[2] * lamp[2]),
      ];
      const rows = seen.map(({ normal }) => features(normal));
      const [all, direct] = twoAmounts(
        rows,
        seen.map(({ light }) => light),
      );
      const predicted = (normal: Vector) => {
        const [a, b] = features(normal);
        return all * a + direct * b;
      };
      const squares = seen.reduce((sum, { normal, light }) => sum + (light - predicted(normal)) ** 2, 0);
      const error = Math.sqrt(squares / seen.length) / Math.max(1e-6, mean);
      if (!best || error < best.error) best = { lamp, error, seen: predicted };
    }
  return best!;
}

/** Least squares of two amounts, each 0 or more. */
function twoAmounts(rows: number[][], light: number[]): [number, number] {
  let [aa, ab, bb, al, bl] = [0, 0, 0, 0, 0];
  for (const [at, [a, b]] of rows.entries()) {
    aa += a * a;
    ab += a * b;
    bb += b * b;
    al += a * light[at];
    bl += b * light[at];
  }
  const determinant = aa * bb - ab * ab;
  const both: [number, number] =
    determinant > 1e-9 ? [(al * bb - bl * ab) / determinant, (aa * bl - ab * al) / determinant] : [0, -1];
  if (both[0] >= 0 && both[1] >= 0) return both;
  const [alone, direct] = [Math.max(0, al / Math.max(1e-9, aa)), Math.max(0, bl / Math.max(1e-9, bb))];
  const left = (all: number, lamp: number) =>
    rows.reduce((sum, [a, b], at) => sum + (light[at] - all * a - lamp * b) ** 2, 0);
  return left(alone, 0) < left(0, direct) ? [alone, 0] : [0, direct];
}
