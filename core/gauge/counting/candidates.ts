import type { Evidence } from "#core/gauge/counting/evidence";
import { beds, courseProfiles, headsOf, laid, type Along, type Heads } from "#core/gauge/counting/courses";
import { combOf, type Comb } from "#core/gauge/counting/combs";
import { transposed, type Plane } from "#core/raster/plane";

/** How plainly a comb is the whole of what a profile holds: strong, without gaps, and with nothing between. */
const plainness = ({ level, weakest, second, ground }: Comb): number =>
  level * share(weakest) * (1 - Math.max(share(second.level), share(ground)));

/** A bed may be two edges, with a bevel between: a second comb beside the first is no other bed, and only one half-way is. */
export const bedPlainness = ({ level, weakest, second, finer, ground }: Comb): number =>
  level * share(weakest) * (1 - Math.max(share(finer), share(ground), BESIDE * share(second.level)));
const BESIDE = 0.6;

const share = (value: number) => Math.max(0, Math.min(1, value));

/** What a picture looks like in courses that follow each other in one direction. */
export interface Coursed {
  along: Along;
  bed: Comb;
  /** The runner-up among the beds, of another number, as a share of the plainness. */
  rival: number;
  /** Pieces in each course, as far as they were found. */
  heads?: Heads;
  /** How plainly, and the runner-up. */
  bedPlainness: number;
  headPlainness: number;
  headRival: number;
  /** Courses of whole pieces and of halves in turn, or both in each course. */
  mixed?: "english" | "flemish";
  /** Of all edges of the pieces, the share that is missing, along the beds and across them. */
  missing: { beds: number; heads: number };
}

/** The best reading in courses of one direction. */
export function coursedIn(evidence: Evidence, along: Along): Coursed | undefined {
  const all = beds(evidence, along).filter(({ count }) => count > 1);
  const bed = plainest(all, bedPlainness);
  if (!bed) return undefined;
  const profiles = courseProfiles(evidence, along, bed);
  const everyHeads = headsOf(profiles);
  const heads = plainest(everyHeads.filter(({ count, steps }) => count > 1 || steps === 2));
  const mixed = mixedBond(profiles, everyHeads);
  return {
    along,
    bed,
    rival: rivalOf(all, bed, bedPlainness),
    heads: mixed?.heads ?? heads,
    bedPlainness: bedPlainness(bed),
    headPlainness: mixed?.plainness ?? (heads ? plainness(heads) : 0),
    headRival: heads ? rivalOf(everyHeads, heads) : 0,
    mixed: mixed?.bond,
    missing: mixed
      ? { beds: missingIn(evidence, along, bed, undefined).beds, heads: 0 }
      : missingIn(evidence, along, bed, heads),
  };
}

function plainest<T extends Comb>(combs: T[], worth = plainness): T | undefined {
  let best: T | undefined;
  // Few places may be strong by chance: many that are less so say more.
  const claim = (comb: T) => worth(comb) * Math.sqrt(Math.max(0, comb.strength));
  for (const comb of combs) if (!best || claim(comb) > claim(best)) best = comb;
  return best;
}

/** The plainest of another number that is no part and no multiple of it. */
function rivalOf(combs: Comb[], best: Comb, worth = plainness): number {
  const others = combs.filter(({ count }) => count % best.count !== 0 && best.count % count !== 0);
  const rival = plainest(others, worth);
  return rival ? worth(rival) / worth(best) : 0;
}

/** A bond of two kinds of pieces is taken where it is at least so plain. */
const MIXED = 0.8;
/** Where the second head of a pair stands: a header is half a stretcher, so it takes a third of both. */
const THIRD = 0.06;

/** Stretchers and headers: in turn from course to course, or in each course. */
function mixedBond(
  profiles: Float32Array[],
  heads: Heads[],
): { bond: "english" | "flemish"; heads: Heads; plainness: number } | undefined {
  if (profiles.length % 2 !== 0) return undefined;
  const [even, odd] = [0, 1].map((off) => {
    const mean = laid(
      profiles.filter((_, course) => course % 2 === off),
      () => 0,
    );
    const combs = Array.from({ length: Math.min(64, Math.floor(mean.length / 5)) }, (_, i) =>
      combOf(mean, i + 1),
    );
    return plainest(combs.filter((one) => one !== undefined));
  });
  if (even && odd && plainness(even) > MIXED && plainness(odd) > MIXED) {
    const [few, many] = even.count < odd.count ? [even, odd] : [odd, even];
    if (many.count === 2 * few.count && few.count > 1)
      return {
        bond: "english",
        heads: { ...few, turns: 0, steps: 1 },
        plainness: Math.min(plainness(even), plainness(odd)),
      };
  }
  const pairs = heads
    .filter(({ steps, count, second, third, weakest, level }) => {
      const off = Math.min(second.offset, 1 - second.offset);
      return (
        steps === 2 &&
        count > 1 &&
        second.level > 0.7 &&
        third < 0.6 &&
        weakest > 0.7 &&
        level > MIXED &&
        Math.abs(off - 1 / 3) < THIRD
      );
    })
    .sort((a, b) => b.level * (1 - b.third) - a.level * (1 - a.third));
  if (pairs.length === 0) return undefined;
  const [best] = pairs;
  return { bond: "flemish", heads: best, plainness: best.level * best.weakest * (1 - share(best.third)) };
}

/** An edge is missing that is less than so much of a usual one. */
const MISSING = 0.35;

/** The share of the pieces' edges that are not there, as of herringbone that lies in a grid. */
function missingIn({ joints }: Evidence, along: Along, bed: Comb, heads: Heads | undefined) {
  const [bedPlane, headPlane] =
    along === "down" ? [joints[1], joints[0]] : [transposed(joints[0]), transposed(joints[1])];
  const { width, height } = bedPlane;
  const course = height / bed.count;
  const count = heads?.count ?? Math.max(2, Math.round(width / Math.max(course, 8)));
  const piece = width / count;
  const shiftOf = (k: number) =>
    heads ? (heads.first / piece + (k * heads.turns) / heads.steps) * piece : 0;
  const bedLevels: number[] = [];
  const headLevels: number[] = [];
  for (let k = 0; k < bed.count; k++)
    for (let i = 0; i < count; i++) {
      const [x, y] = [shiftOf(k) + i * piece, bed.first + k * course];
      bedLevels.push(edge(bedPlane, x + 0.2 * piece, y, 0.6 * piece, course * 0.1, "level"));
      if (heads) headLevels.push(edge(headPlane, x, y + 0.2 * course, 0.6 * course, piece * 0.1, "upright"));
    }
  return { beds: shareMissing(bedLevels), heads: heads ? shareMissing(headLevels) : 1 };
}

function shareMissing(levels: number[]): number {
  const usual = levels.slice().sort((a, b) => a - b)[Math.floor(0.65 * levels.length)];
  if (!(usual > 0)) return 1;
  return levels.filter((level) => level < MISSING * usual).length / levels.length;
}

/** The mean along a piece's edge, on the line beside its place that is strongest. */
function edge(
  { width, height, data }: Plane,
  x: number,
  y: number,
  length: number,
  off: number,
  runs: "level" | "upright",
): number {
  const reach = Math.max(1, Math.min(5, Math.round(off)));
  const steps = Math.max(1, Math.round(length));
  let most = -Infinity;
  for (let k = -reach; k <= reach; k++) {
    let sum = 0;
    for (let i = 0; i < steps; i++) {
      const [px, py] = runs === "level" ? [x + i, y + k] : [x + k, y + i];
      sum +=
        data[
          (((Math.round(py) % height) + height) % height) * width +
            (((Math.round(px) % width) + width) % width)
        ];
    }
    most = Math.max(most, sum / steps);
  }
  return most;
}
