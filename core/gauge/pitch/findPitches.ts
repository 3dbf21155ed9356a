import { ALONE, bestAlone, bestOnCourses, type BestComb } from "#core/gauge/pitch/bestComb";
import { hasLongerCourses } from "#core/gauge/pitch/everySecondCourse";
import { fitOf } from "#core/gauge/pitch/fitOf";
import { selfLikenessOf, type SelfLikeness } from "#core/gauge/pitch/selfLikeness";
import { HEADS, signsOf } from "#core/gauge/pitch/signsOf";
import { DIRECTIONS, type Direction } from "#core/raster/directions";
import { resample, transposed, type Plane } from "#core/raster/plane";

/** The distances after which a pattern begins again, bond and all, in pixels of the image with fractions. */
export interface Pitches {
  across?: number;
  down?: number;
  /** The direction in which the pattern goes on as well, at a pitch that does not show: it may be longer than the picture. */
  hidden?: Direction;
}

/** Longer side of the reduced image in which pitches are looked for. */
export const PITCH_SEARCH = 384;
/** So far a shift may go, as a share of the side: of what is left beyond, too little overlaps. */
const FARTHEST = 0.86;
/** A comb that stands out less is no repetition. */
const CLEAR = 0.34;
/** The first maps show what repeats; more of them cost more than they say. */
const MOST_MAPS = 2;

/**
 * The pitches of a pattern in a picture that may be cut off anywhere. First the clearer of both directions is found from each line's
 * likeness to itself after growing shifts; it gives the courses. Then the other one from what all courses together say for each way
 * in which they may be laid: the joints between the pieces of one course are few, and worn ones are told only together.
 * @param planes maps that lie over each other, all of one size
 */
export function findPitches(planes: Plane[]): Pitches {
  const [{ width, height }] = planes;
  const by = Math.max(1, width / PITCH_SEARCH, height / PITCH_SEARCH);
  const [w, h] = [width, height].map((side) => Math.max(16, Math.round(side / by)));
  const reduced = planes.slice(0, MOST_MAPS).map((plane) => resample(plane, w, h));
  const signs = {
    across: reduced.flatMap(signsOf),
    down: reduced.map(transposed).flatMap(signsOf),
  };
  const views = { across: viewOf(signs.across), down: viewOf(signs.down) };
  const found = pitchesIn(views, { across: signs.across[HEADS], down: signs.down[HEADS] });
  const only = DIRECTIONS.filter((direction) => found[direction] !== undefined);
  return {
    ...(found.across !== undefined && { across: (found.across * width) / w }),
    ...(found.down !== undefined && { down: (found.down * height) / h }),
    ...(only.length === 1 && goesOnBeside(signs[only[0]], found[only[0]]!) && { hidden: OTHER[only[0]] }),
  };
}

const OTHER = { across: "down", down: "across" } as const;

type Views = Record<Direction, SelfLikeness[]>;

const viewOf = (signs: Plane[]) =>
  signs.map((sign) => selfLikenessOf(sign, Math.floor(FARTHEST * sign.width)));

/** What more comparisons say is clearer. */
const clearnessOf = (best: BestComb | undefined) => (best ? best.gain * best.weight ** 0.4 : 0);

/** In samples of the reduced image. */
function pitchesIn(views: Views, heads: Record<Direction, Plane>): { across?: number; down?: number } {
  const alone = { across: bestAlone(views.across), down: bestAlone(views.down) };
  const along = clearnessOf(alone.down) >= clearnessOf(alone.across) ? "down" : "across";
  const course = alone[along];
  if (!course || clearnessOf(course) < CLEAR) return {};
  const beside = OTHER[along];
  const head = bestOnCourses(views[beside], course.pitch);
  if (!head || clearnessOf(head) < CLEAR) return { [along]: course.pitch };
  const found = { [along]: course.pitch * head.laying.courses, [beside]: head.pitch } as Record<
    Direction,
    number
  >;
  if (hasLongerCourses(heads[beside], head.pitch, found[along])) found[beside] *= 2;
  const part = partOfOne(views, found);
  return part ? { [OTHER[part]]: found[OTHER[part]] } : found;
}

/** A whole repeat is as alike in one direction as in the other, all signs together; half of one in a bond is not, down to this share. */
const AS_ALIKE = 0.6;

/** The direction whose pitch is a part of a repeat only; undefined where both are whole. */
function partOfOne(views: Views, { across, down }: Record<Direction, number>): Direction | undefined {
  const [a, b] = [likenessAt(views.across, across), likenessAt(views.down, down)];
  if (a < AS_ALIKE * b && !isFree(views.across, across)) return "across";
  if (b < AS_ALIKE * a && !isFree(views.down, down)) return "down";
  return undefined;
}

/** Courses whose pieces begin anywhere are alike after none of them: where four were there to look at, each will do. */
const isFree = ([{ most }]: SelfLikeness[], pitch: number) => 5 * pitch < most;

const likenessAt = (view: SelfLikeness[], pitch: number) =>
  fitOf(view, { pitch, laying: ALONE }).peaks.reduce((sum, peak) => sum + peak, 0) / view.length;

/** So alike after a pitch is what changes along the other direction, and there is a pattern in that direction too. */
const STRUCTURED = 0.12;
/** Or so alike, where it is also this share of how alike everything is: the joints of a worn pattern are never very alike. */
const FAINTLY = { alike: 0.05, ofAll: 0.27 };

/** @param signs laid so that the pitch runs along the lines */
function goesOnBeside(signs: Plane[], pitch: number): boolean {
  // Slats are the same all along: without what is, only their grain is left.
  const alike = likenessAt(viewOf(signs.map(withoutColumnMeans)), pitch);
  if (alike < FAINTLY.alike) return false;
  return alike >= STRUCTURED || alike >= FAINTLY.ofAll * likenessAt(viewOf(signs), pitch);
}

function withoutColumnMeans({ width, height, data }: Plane): Plane {
  const means = new Float64Array(width);
  data.forEach((v, i) => (means[i % width] += v / height));
  return { width, height, data: data.map((v, i) => v - means[i % width]) };
}
