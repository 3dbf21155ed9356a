import { FARTHEST_COURSE, fitOf, type Comb, type Fit, type Laying } from "#core/gauge/pitch/fitOf";
import type { SelfLikeness } from "#core/gauge/pitch/selfLikeness";
import { HEADS, SIGNS } from "#core/gauge/pitch/signsOf";

/** A comb that was found, with what speaks for it. */
export interface BestComb extends Comb, Fit {}

/** How courses may lie that one pitch along them explains: stacked, or each shifted by a part of it, or each second one alike. */
const LAYINGS: Laying[] = [
  { shift: 0, every: 1, courses: 1 },
  { shift: 1 / 2, every: 1, courses: 2 },
  { shift: 1 / 3, every: 1, courses: 3 },
  { shift: -1 / 3, every: 1, courses: 3 },
  { shift: 1 / 4, every: 1, courses: 4 },
  { shift: -1 / 4, every: 1, courses: 4 },
  { shift: 0, every: 2, courses: 2 },
];
/** Each line compared with itself alone. */
export const ALONE: Laying = { shift: 0, every: 1, courses: 1 };
/** Shorter pitches are grain, in samples. */
const SHORTEST = 5;

/** The comb that stands out most where each line is compared with itself alone; undefined in a picture too small for any. */
export function bestAlone(view: SelfLikeness[]): BestComb | undefined {
  return bestOf(view, (pitch) => [{ pitch, laying: ALONE }]);
}

/** The same where courses of a known distance are compared as well, in each way in which they may be laid. */
export function bestOnCourses(view: SelfLikeness[], course: number): BestComb | undefined {
  const possible = LAYINGS.filter(({ every }) => every * course <= FARTHEST_COURSE * view[0].height);
  return bestOf(view, (pitch) => [
    { pitch, laying: ALONE },
    ...possible.map((laying) => ({ pitch, course, laying })),
  ]);
}

function bestOf(view: SelfLikeness[], combsOf: (pitch: number) => Comb[]): BestComb | undefined {
  let best: BestComb | undefined;
  for (const comb of pitchesFor(view).flatMap(combsOf)) {
    const fit = fitOf(view, comb);
    if (!best || worthOf(fit) > worthOf(best)) best = { ...comb, ...fit };
  }
  return best && coarserOf(view, { ...best, pitch: refined(view, best) }, combsOf);
}

/** What one comparison of a corner says is not enough, as a weight. */
const ENOUGH_WEIGHT = 0.35;

/** Where pitches compete, the number of comparisons counts for little, or the finest would win. */
const worthOf = ({ gain, weight }: Fit) =>
  gain * Math.min(1, weight / ENOUGH_WEIGHT) * Math.max(ENOUGH_WEIGHT, weight) ** 0.15;

/** Closer together where more of them fit in, because an error adds up. */
function pitchesFor([{ width, most }]: SelfLikeness[]): number[] {
  const out: number[] = [];
  for (let pitch = SHORTEST; pitch < most - 2; pitch += Math.max(0.2, pitch ** 2 / (16 * width)))
    out.push(pitch);
  return out;
}

/** The pitch to a fraction of a sample: around the best one, where the peaks themselves are highest. */
function refined(view: SelfLikeness[], comb: Comb): number {
  let best = { pitch: comb.pitch, gain: -Infinity };
  for (let step = -40; step <= 40; step++) {
    const pitch = comb.pitch * (1 + step / 1000);
    const { gain } = fitOf(view, { ...comb, pitch }, true);
    if (gain > best.gain) best = { pitch, gain };
  }
  return best.pitch;
}

/** How many times coarser a pattern may be than the comb that stands out most, as in herringbone, basket weave or English bond. */
const TIMES = [2, 3, 4, 6];
/** By how much a coarser comb's shifts are more alike than the others where it is the pattern's, and how much more for one comparison. */
const DROP = { of: 0.25, few: 0.3 };
/** The same of the joints across the direction alone, of what they are alike. */
const HEADS_DROP = { of: 0.16, few: 0.2 };
/** Joints that are less alike than this are not there. */
const LEAST_HEADS = 0.05;

function coarserOf(view: SelfLikeness[], fine: BestComb, combsOf: (pitch: number) => Comb[]): BestComb {
  let best = { comb: fine, clear: 1 };
  for (const times of TIMES) {
    if (times * fine.pitch >= view[0].most - 2) continue;
    for (const comb of combsOf(times * fine.pitch)) {
      // Only like is compared with like: lines alone are alike at one place more often by chance.
      if ((comb.course === undefined) !== (fine.course === undefined)) continue;
      const coarse = { ...comb, ...fitOf(view, comb) };
      const clear = clearnessOver(fine, coarse);
      if (clear > best.clear) best = { comb: coarse, clear };
    }
  }
  return best.comb === fine ? fine : { ...best.comb, pitch: refined(view, best.comb) };
}

/** How clearly the shifts that only the fine comb has are less alike than those of the coarse one: from 1 on they are. */
function clearnessOver(fine: BestComb, coarse: BestComb): number {
  const others = fine.weight - coarse.weight;
  if (coarse.weight < ENOUGH_WEIGHT || others < ENOUGH_WEIGHT) return 0;
  const dropOf = (likeness: "peaks" | "wide", i: number) =>
    coarse[likeness][i] - (fine.weight * fine[likeness][i] - coarse.weight * coarse[likeness][i]) / others;
  let [drops, headDrop, headPeak] = [0, 0, 0];
  for (let i = 0; i < coarse.peaks.length; i++) {
    drops += Math.max(0, dropOf("peaks", i));
    if (i % SIGNS !== HEADS) continue;
    headDrop += dropOf("wide", i);
    headPeak += coarse.wide[i];
  }
  const needed = ({ of, few }: typeof DROP) => of + few / coarse.weight;
  const ofAll = drops / (coarse.peaks.length / SIGNS) / fine.gain / needed(DROP);
  const isStacked = coarse.laying.shift === 0 && coarse.laying.every === 1;
  const isShown = headPeak > LEAST_HEADS;
  return isStacked && isShown ? Math.max(ofAll, headDrop / headPeak / needed(HEADS_DROP)) : ofAll;
}
