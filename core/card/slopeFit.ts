import { amountsOf, lampDirection, lampsAt, lightParts, type Lamp } from "#core/card/lampFit";
import { SIDES } from "#core/card/layout";
import { litShare, SAW_PARTS, sawNormal, type Meant } from "#core/card/saw";
import type { Lean, Tilts } from "#core/card/tilts";
import type { Vector } from "#core/shade/vector";

/** Usually left unexplained: of the light at rest, of how far sides lie apart, and of a tilt. */
const NOISE = 0.012;
const OF_SPAN = 0.08;
const OF_TILT = 0.08;
/** Errors have this at least, as ratios of what is less than noise say nothing. */
const FLOOR = 0.15;

/** What was seen of slopes, and how much weight each part has. Only how the sides differ counts: what edges of the teeth do to all four alike does not. */
export interface SeenSlopes {
  /** By part and side, weighed. */
  lights: number[];
  /** By part. */
  weights: number[];
}

export function weighed(seen: readonly (readonly number[])[], rest: number): SeenSlopes {
  const weights = seen.map((lights) => 1 / Math.hypot(NOISE * rest, OF_SPAN * spanOf(lights)));
  return {
    weights,
    lights: seen.flatMap((lights, at) => centred(lights).map((light) => light * weights[at])),
  };
}

/** What lights of a lamp would make of slopes that are meant in a way: for all lamps their normals are the same. */
function slopeRows({ weights }: SeenSlopes, meant: Meant, atRest: Lean): (lamp: Lamp) => number[][] {
  const normals = SAW_PARTS.map((part) => SIDES.map((side) => sawNormal(part, side, meant, atRest)));
  return (lamp) => {
    const rows: number[][] = [];
    for (const [at, part] of SAW_PARTS.entries()) {
      const sides = SIDES.map((side, which) => {
        const parts = lightParts(normals[at][which], lamp);
        const lit = litShare(part, side, meant, lamp.direction);
        return [parts[0], parts[1] * lit, parts[2] * lit];
      });
      const mean = [0, 1, 2].map(
        (one) => (sides[0][one] + sides[1][one] + sides[2][one] + sides[3][one]) / 4,
      );
      const weight = weights[at];
      for (const [x, y, z] of sides)
        rows.push([(x - mean[0]) * weight, (y - mean[1]) * weight, (z - mean[2]) * weight]);
    }
    return rows;
  };
}

const spanOf = (values: readonly number[]) => Math.max(...values) - Math.min(...values);

function centred(values: readonly number[]): number[] {
  const mean = values.reduce((sum, value) => sum + value, 0) / values.length;
  return values.map((value) => value - mean);
}

const DEGREE = Math.PI / 180;
const ABOVE = [20, 32, 44, 56, 68];

/** Tilts tell well from which side the lamp shines, and less well how high it stands. */
const lampsNear = ([x, y]: Vector): Lamp[] =>
  lampsAt(
    [-12, 0, 12].flatMap((aside) =>
      ABOVE.map((above) => lampDirection(Math.atan2(y, x) + aside * DEGREE, above * DEGREE)),
    ),
  );

/** How far slopes and tilts are from what a lamp makes of them that explains the tilts, where slopes are meant in this way. */
export function errorBy(slopes: SeenSlopes, tilts: SeenTilts, meant: Meant): number {
  const lights = [...slopes.lights, ...tilts.lights];
  const rowsBy = slopeRows(slopes, meant, tilts.atRest);
  let least = Infinity;
  for (const { lamp, rows } of tilts.ways)
    least = Math.min(least, robustSquares([...rowsBy(lamp), ...rows], lights));
  return FLOOR + Math.sqrt(least);
}

/** A lamp that is mirrored in a slope says nothing of how steep it is: what is farther off than this is left out, and counts as so far. */
const FARTHEST = 3.5;
const MOST_LEFT_OUT = 4;

/** Mean of the squares of what is left unexplained. */
function robustSquares(rows: readonly number[][], lights: readonly number[]): number {
  const first = amountsOf(rows, lights);
  const misses = rows.map((row, at) =>
    Math.abs(lights[at] - row.reduce((sum, v, k) => sum + v * first.amounts[k], 0)),
  );
  const far = misses.map((miss, at) => ({ miss, at })).filter(({ miss }) => miss > FARTHEST);
  if (far.length === 0) return first.squares / rows.length;
  const out = new Set(
    far
      .sort((a, b) => b.miss - a.miss)
      .slice(0, MOST_LEFT_OUT)
      .map(({ at }) => at),
  );
  const kept = amountsOf(
    rows.filter((_, at) => !out.has(at)),
    lights.filter((_, at) => !out.has(at)),
  );
  return Math.min(first.squares, kept.squares + out.size * FARTHEST ** 2) / rows.length;
}

/** What was seen of tilts, weighed, and what each lamp and highlight that may be would make of them. */
export interface SeenTilts {
  lights: number[];
  ways: { lamp: Lamp; rows: number[][] }[];
  atRest: Lean;
}

export function weighedTilts({ best, leanings, atRest }: Tilts, rest: number): SeenTilts {
  const weights = leanings.map(({ light }) => 1 / Math.hypot(NOISE * rest, OF_TILT * light));
  return {
    lights: leanings.map(({ light }, at) => light * weights[at]),
    ways: lampsNear(best.lamp).map((lamp) => ({
      lamp,
      rows: leanings.map(({ normal }, at) => lightParts(normal, lamp).map((value) => value * weights[at])),
    })),
    atRest,
  };
}

const LAMPS = lampsAt(
  Array.from({ length: 16 }, (_, step) => (step / 16) * 2 * Math.PI).flatMap((around) =>
    ABOVE.map((above) => lampDirection(around, above * DEGREE)),
  ),
);
const LEVEL: Vector = [0, 0, 1];
const NO_LEAN: Lean = { x: 0, y: 0 };

/**
 * The same where no normals tell of the light: of any lamp that makes what lies at rest as light as it is. How steep slopes are is seen by how
 * much less than twice as far apart lie the sides of those that are twice as steep.
 */
export function errorAlone(slopes: SeenSlopes, rest: number, meant: Meant): { error: number; lamp: Vector } {
  const lights = [...slopes.lights, 1 / OF_TILT];
  const rowsBy = slopeRows(slopes, meant, NO_LEAN);
  let [least, best] = [Infinity, LAMPS[0]];
  for (const lamp of LAMPS) {
    const level = lightParts(LEVEL, lamp).map((value) => value / (OF_TILT * rest));
    const squares = robustSquares([...rowsBy(lamp), level], lights);
    if (squares < least) [least, best] = [squares, lamp];
  }
  return { error: FLOOR + Math.sqrt(least), lamp: best.direction };
}
