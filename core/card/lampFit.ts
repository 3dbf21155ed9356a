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
  const lights = seen.map(({ light }) => light);
  let best: Amounts & { lamp: Lamp } = { lamp: LAMPS[0], amounts: [0, 0, 0], squares: Infinity };
  for (const lamp of LAMPS) {
    const found = amountsOf(
      seen.map(({ normal }) => lightParts(normal, lamp)),
      lights,
    );
    if (found.squares < best.squares) best = { lamp, ...found };
  }
  const { lamp, amounts, squares } = best;
  return {
    lamp: lamp.direction,
    error: Math.sqrt(squares / seen.length) / Math.max(1e-6, mean),
    seen: (normal) => lightParts(normal, lamp).reduce((sum, part, at) => sum + part * amounts[at], 0),
  };
}

const PAIRS = [
  [0, 1],
  [1, 2],
  [0, 2],
] as const;

/** Least squares of three amounts, each 0 or more. @param rows what each amount of 1 makes of each light */
function amountsOf(rows: readonly (readonly number[])[], lights: readonly number[]): Amounts {
  const sums = new Float64Array(PRODUCTS);
  rows.forEach(([x, y, z], at) => addRow(sums, x, y, z, lights[at], 1));
  return leastSquares(sums);
}

export interface Amounts {
  amounts: [number, number, number];
  /** Sum of the squares of what is left unexplained. */
  squares: number;
}

/** Sums of products that least squares of three amounts take: of each two columns, of each with the lights, and of those. */
export const PRODUCTS = 10;

/** Adds what a row says, so many times. */
export function addRow(sums: Float64Array, x: number, y: number, z: number, light: number, times: number) {
  sums[0] += times * x * x;
  sums[1] += times * y * y;
  sums[2] += times * z * z;
  sums[3] += times * x * y;
  sums[4] += times * y * z;
  sums[5] += times * x * z;
  sums[6] += times * x * light;
  sums[7] += times * y * light;
  sums[8] += times * z * light;
  sums[9] += times * light * light;
}

/** The same from sums that `addRow` made. */
export function leastSquares(sums: Float64Array): Amounts {
  const [xx, yy, zz, xy, yz, xz, xl, yl, zl, total] = sums;
  // All three by Cramer's rule: where none is less than 0, nothing fits better.
  const determinant = xx * (yy * zz - yz * yz) - xy * (xy * zz - yz * xz) + xz * (xy * yz - yy * xz);
  if (determinant > LEAST_APART * xx * yy * zz) {
    const x = (xl * (yy * zz - yz * yz) - xy * (yl * zz - yz * zl) + xz * (yl * yz - yy * zl)) / determinant;
    const y = (xx * (yl * zz - yz * zl) - xl * (xy * zz - yz * xz) + xz * (xy * zl - yl * xz)) / determinant;
    const z = (xx * (yy * zl - yl * yz) - xy * (xy * zl - yl * xz) + xl * (xy * yz - yy * xz)) / determinant;
    if (x >= 0 && y >= 0 && z >= 0)
      return { amounts: [x, y, z], squares: Math.max(0, total - x * xl - y * yl - z * zl) };
  }
  // Otherwise the best of two of them, or of one.
  const [own, right, shared] = [
    [xx, yy, zz],
    [xl, yl, zl],
    [xy, yz, xz],
  ];
  let best: Amounts = { amounts: [0, 0, 0], squares: total };
  const offer = (i: number, a: number, j: number, b: number) => {
    const squares = Math.max(0, total - a * right[i] - b * right[j]);
    if (!(a >= 0 && b >= 0 && squares < best.squares)) return;
    const amounts: Amounts["amounts"] = [0, 0, 0];
    amounts[j] = b;
    amounts[i] = a;
    best = { amounts, squares };
  };
  for (const [pair, [i, j]] of PAIRS.entries()) {
    const apart = own[i] * own[j] - shared[pair] ** 2;
    if (apart > LEAST_APART * own[i] * own[j])
      offer(
        i,
        (right[i] * own[j] - shared[pair] * right[j]) / apart,
        j,
        (own[i] * right[j] - shared[pair] * right[i]) / apart,
      );
  }
  for (const i of [0, 1, 2]) if (own[i] > 0) offer(i, right[i] / own[i], (i + 1) % 3, 0);
  return best;
}

/** Parts that are so much alike cannot be told apart. */
const LEAST_APART = 1e-9;

/** How far lights lie apart, from the darkest to the lightest, against their mean. */
export function spreadOf(lights: readonly number[]): number {
  const mean = lights.reduce((sum, light) => sum + light, 0) / lights.length;
  return (Math.max(...lights) - Math.min(...lights)) / mean;
}
