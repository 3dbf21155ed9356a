import { lampDirection, lampsAt, lightParts, type Lamp } from "#core/card/lampFit";
import { SIDES } from "#core/card/layout";
import { addRow, leastSquares, PRODUCTS } from "#core/card/leastSquares";
import { litShare, SAW_PARTS, sawNormal, type Meant } from "#core/card/saw";
import type { Lean, Tilts } from "#core/card/tilts";
import type { Vector } from "#core/shade/vector";

/** Usually left unexplained: of the light at rest, of how far sides lie apart, and of a tilt. */
const NOISE = 0.012;
const OF_SPAN = 0.08;
const OF_TILT = 0.08;
/** Errors have this at least, as ratios of what is less than noise say nothing. */
const FLOOR = 0.15;
/** What Lambert's law makes of the slope that faces the lamp is not so many times as light as the lightest tilt. */
const MIRRORED = 1.2;

/** Parts of teeth, and sides of each. */
const PLACES = SAW_PARTS.length * SIDES.length;

/**
 * What was seen of slopes: of each part of the teeth each side. Only how the sides of a part differ counts: what edges of the teeth do to all
 * four alike does not.
 */
export interface SeenSlopes {
  /** Weighed. */
  lights: Float64Array;
  weights: Float64Array;
  /** 0 of sides that show a lamp which is mirrored in them, and not how steep they are. */
  isKept: Uint8Array;
}

/** @param seen by part and side @param lightest what is no highlight is not much lighter than this */
export function weighed(seen: readonly (readonly number[])[], rest: number, lightest: number): SeenSlopes {
  const isKept = seen.map((lights) => lights.map((light) => light < MIRRORED * lightest));
  const weights = seen.map(
    (lights, part) =>
      1 / Math.hypot(NOISE * rest, OF_SPAN * spanOf(lights.filter((_, side) => isKept[part][side]))),
  );
  return {
    lights: Float64Array.from(seen.flatMap((lights, part) => lights.map((light) => light * weights[part]))),
    weights: Float64Array.from(weights.flatMap((weight) => SIDES.map(() => weight))),
    isKept: Uint8Array.from(isKept.flat(), Number),
  };
}

/** Fills in what lights of a lamp would make of slopes that are meant in a way, three of each: for all lamps their normals are the same. */
function slopeParts(
  { weights }: SeenSlopes,
  meant: Meant,
  atRest: Lean,
): (lamp: Lamp, out: Float64Array) => void {
  const places = SAW_PARTS.flatMap((part) =>
    SIDES.map((side) => ({ part, side, normal: sawNormal(part, side, meant, atRest) })),
  );
  return (lamp, out) => {
    for (let place = 0; place < PLACES; place++) {
      const { part, side, normal } = places[place];
      const [even, facing, mirrored] = lightParts(normal, lamp);
      const weight = weights[place];
      const lit = weight * litShare(part, side, meant, lamp.direction);
      out[3 * place] = even * weight;
      out[3 * place + 1] = facing * lit;
      out[3 * place + 2] = mirrored * lit;
    }
  };
}

const spanOf = (values: readonly number[]) =>
  values.length === 0 ? 0 : Math.max(...values) - Math.min(...values);

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
  const fillParts = slopeParts(slopes, meant, tilts.atRest);
  const parts = new Float64Array(3 * PLACES);
  let least = Infinity;
  for (const { lamp, sums } of tilts.ways) {
    fillParts(lamp, parts);
    least = Math.min(least, robustSquares(slopes, parts, sums, tilts.count));
  }
  return FLOOR + Math.sqrt(least);
}

/** A lamp that is mirrored in a slope says nothing of how steep it is: what is farther off than this is left out, and counts as so far. */
const FARTHEST = 3.5;
const MOST_LEFT_OUT = 4;

/**
 * Mean of the squares of what is left unexplained.
 * @param parts what each of three amounts of 1 makes of each side
 * @param others sums of products of what else was seen, and how much that is
 */
function robustSquares(slopes: SeenSlopes, parts: Float64Array, others: Float64Array, count: number): number {
  const first = fitted(slopes, slopes.isKept, parts, others);
  const rows = first.kept + count;
  const far: { place: number; miss: number }[] = [];
  for (let place = 0; place < PLACES; place++) {
    if (!slopes.isKept[place]) continue;
    const miss = Math.abs(first.missAt(place));
    if (miss > FARTHEST) far.push({ place, miss });
  }
  if (far.length === 0) return first.squares / rows;
  const isKept = Uint8Array.from(slopes.isKept);
  const out = far.sort((a, b) => b.miss - a.miss).slice(0, MOST_LEFT_OUT);
  for (const { place } of out) isKept[place] = 0;
  const { squares } = fitted(slopes, isKept, parts, others);
  return Math.min(first.squares, squares + out.length * FARTHEST ** 2) / rows;
}

/** Least squares of three amounts, of sides against the mean of those of their part that are kept. */
function fitted({ lights }: SeenSlopes, isKept: Uint8Array, parts: Float64Array, others: Float64Array) {
  const sums = Float64Array.from(others);
  // By part: mean of each of the three, and of the light.
  const means = new Float64Array(4 * SAW_PARTS.length);
  let kept = 0;
  for (let part = 0; part < SAW_PARTS.length; part++) {
    let [x, y, z, light, sides] = [0, 0, 0, 0, 0];
    for (let place = part * SIDES.length; place < (part + 1) * SIDES.length; place++) {
      if (!isKept[place]) continue;
      sides++;
      x += parts[3 * place];
      y += parts[3 * place + 1];
      z += parts[3 * place + 2];
      light += lights[place];
      addRow(sums, parts[3 * place], parts[3 * place + 1], parts[3 * place + 2], lights[place], 1);
    }
    if (sides === 0) continue;
    kept += sides;
    addRow(sums, x / sides, y / sides, z / sides, light / sides, -sides);
    means.set([x / sides, y / sides, z / sides, light / sides], 4 * part);
  }
  const { amounts, squares } = leastSquares(sums);
  const missAt = (place: number) => {
    const mean = 4 * Math.floor(place / SIDES.length);
    let miss = lights[place] - means[mean + 3];
    for (let one = 0; one < 3; one++) miss -= amounts[one] * (parts[3 * place + one] - means[mean + one]);
    return miss;
  };
  return { squares, kept, missAt };
}

/** What was seen of tilts, and what each lamp and highlight that may be would make of them: sums of products of both, weighed. */
export interface SeenTilts {
  ways: { lamp: Lamp; sums: Float64Array }[];
  count: number;
  atRest: Lean;
}

export function weighedTilts({ best, leanings, atRest }: Tilts, rest: number): SeenTilts {
  return {
    ways: lampsNear(best.lamp).map((lamp) => {
      const sums = new Float64Array(PRODUCTS);
      for (const { normal, light } of leanings) {
        const weight = 1 / Math.hypot(NOISE * rest, OF_TILT * light);
        const [x, y, z] = lightParts(normal, lamp);
        addRow(sums, x * weight, y * weight, z * weight, light * weight, 1);
      }
      return { lamp, sums };
    }),
    count: leanings.length,
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
  const fillParts = slopeParts(slopes, meant, NO_LEAN);
  const parts = new Float64Array(3 * PLACES);
  const sums = new Float64Array(PRODUCTS);
  let [least, best] = [Infinity, LAMPS[0]];
  for (const lamp of LAMPS) {
    fillParts(lamp, parts);
    const [x, y, z] = lightParts(LEVEL, lamp);
    sums.fill(0);
    addRow(sums, x / (OF_TILT * rest), y / (OF_TILT * rest), z / (OF_TILT * rest), 1 / OF_TILT, 1);
    const squares = robustSquares(slopes, parts, sums, 1);
    if (squares < least) [least, best] = [squares, lamp];
  }
  return { error: FLOOR + Math.sqrt(least), lamp: best.direction };
}
