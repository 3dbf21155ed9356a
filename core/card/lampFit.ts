import { addRow, leastSquares, PRODUCTS, type Amounts } from "#core/card/leastSquares";
import { dot, unit, type Vector } from "#core/shade/vector";

/** What was seen of a surface that leans. */
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
/** Widths of highlights that are tried, as the tangent of an angle. */
const ROUGH = [0.1, 0.25, 0.5] as const;

/** A lamp, and how wide what it mirrors in is. */
export interface Lamp {
  /** To the lamp; x to the right, y up. */
  direction: Vector;
  /** Half-way between the lamp and the eye, which is straight above. */
  half: Vector;
  rough: number;
}

/** Each of some directions with each width of a highlight. */
export const lampsAt = (directions: readonly Vector[]): Lamp[] =>
  directions.flatMap((direction) => {
    const half = unit([direction[0], direction[1], direction[2] + 1]);
    return ROUGH.map((rough) => ({ direction, half, rough }));
  });

/**
 * What light from a lamp is made of, seen from straight above: light from all around, which an upright surface has half of, what Lambert's law
 * says, and a highlight (of the shape of Trowbridge and Reitz 1975).
 */
export function lightParts(normal: Vector, { direction, half, rough }: Lamp): [number, number, number] {
  const facing = Math.max(0, dot(normal, direction));
  const cosine = Math.max(1e-3, dot(normal, half));
  const cosine2 = cosine * cosine;
  const spread = cosine2 + (1 - cosine2) / (rough * rough);
  return [1 + normal[2], facing, facing / (spread * spread)];
}

const LAMPS = lampsAt(
  Array.from({ length: AROUND_STEPS }, (_, step) => (step / AROUND_STEPS) * 2 * Math.PI).flatMap((around) =>
    ABOVE.map((above) => lampDirection(around, (above * Math.PI) / 180)),
  ),
);

/** @param around, above in radians: 0 from the right, and over the surface */
export function lampDirection(around: number, above: number): Vector {
  return [Math.cos(above) * Math.cos(around), Math.cos(above) * Math.sin(around), Math.sin(above)];
}

/** Finds from where a lamp must shine: by least squares for each of a grid of directions and of highlights, no light less than none. */
export function fitLamp(seen: readonly Leaning[]): LampFit {
  const mean = seen.reduce((sum, { light }) => sum + light, 0) / seen.length;
  let best: Amounts & { lamp: Lamp } = { lamp: LAMPS[0], amounts: [0, 0, 0], squares: Infinity };
  const sums = new Float64Array(PRODUCTS);
  for (const lamp of LAMPS) {
    sums.fill(0);
    for (const { normal, light } of seen) {
      const [even, facing, mirrored] = lightParts(normal, lamp);
      addRow(sums, even, facing, mirrored, light, 1);
    }
    const found = leastSquares(sums);
    if (found.squares < best.squares) best = { lamp, ...found };
  }
  const { lamp, amounts, squares } = best;
  return {
    lamp: lamp.direction,
    error: Math.sqrt(squares / seen.length) / Math.max(1e-6, mean),
    seen: (normal) => lightParts(normal, lamp).reduce((sum, part, at) => sum + part * amounts[at], 0),
  };
}

/** How far lights lie apart, from the darkest to the lightest, against their mean. */
export function spreadOf(lights: readonly number[]): number {
  const mean = lights.reduce((sum, light) => sum + light, 0) / lights.length;
  return (Math.max(...lights) - Math.min(...lights)) / mean;
}
