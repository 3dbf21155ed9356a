import { SIGNS } from "#core/gauge/pitch/signsOf";
import type { SelfLikeness } from "#core/gauge/pitch/selfLikeness";

/** How courses that follow each other lie: the same after so many of them, each shifted by a part of the pitch. */
export interface Laying {
  /** Part of the pitch by which a course is shifted against the one before that it is compared with. */
  shift: number;
  /** Only each so-manieth course is compared. */
  every: number;
  /** After so many courses the pattern begins again. */
  courses: number;
}

/** The shifts at which a pattern of this pitch along the lines would be like itself. */
export interface Comb {
  pitch: number;
  /** Distance of courses, in lines; without it, each line is compared with itself alone. */
  course?: number;
  laying: Laying;
}

/** Courses that lie farther apart add nothing new. */
const MOST_COURSES = 12;
/** So far courses may lie apart, as a share of the picture, and still be compared. */
export const FARTHEST_COURSE = 0.8;
/** A peak may be off by this share of the pitch, up to so many samples. */
const [OFF, MOST_OFF] = [0.06, 1.5];
/** Where between two peaks the valleys are read, as shares of the pitch. */
const VALLEYS = [-0.4, -1 / 3, -0.25, 0.25, 1 / 3, 0.4, 0.5];

/** By how much the pictures are more like themselves at a comb's shifts than between them, all signs of a map together, and how many comparisons that rests on. */
export interface Fit {
  gain: number;
  weight: number;
  /** The likeness at the comb's shifts, by plane. */
  peaks: Float64Array;
  /** The same over the width of a peak: thin joints are less alike after a part of a pixel, but over more of them. */
  wide: Float64Array;
}

/** Half the width of a peak, in samples. */
const WIDE = 2;

/**
 * Gain of a comb over all planes, each comparison weighed by what overlaps.
 * @param exact whether peaks may be off a little; with none allowed, the pitch shows to a fraction of a sample
 */
export function fitOf(planes: SelfLikeness[], { pitch, course, laying }: Comb, exact = false): Fit {
  const [{ width, height, most }] = planes;
  const reach = exact ? 0 : Math.min(MOST_OFF, OFF * pitch);
  const peaks = exact ? [0] : [-reach, 0, reach];
  const last =
    course === undefined ? 0 : Math.min(MOST_COURSES, Math.floor((FARTHEST_COURSE * height) / course));
  let [gain, weight] = [0, 0];
  const [found, wide] = [new Float64Array(planes.length), new Float64Array(planes.length)];
  for (let n = 0; n <= last; n += laying.every) {
    const apart = n * (course ?? 0);
    const offset = (n / laying.every) * laying.shift * pitch;
    const curves = planes.map((plane) => plane.curve(apart));
    const from = n === 0 ? 1 : Math.ceil((2 - most - offset) / pitch);
    const to = Math.floor((most - 2 - offset) / pitch);
    for (let k = from; k <= to; k++) {
      const at = k * pitch + offset;
      // Right below itself a picture is alike whatever its pitch is.
      if (Math.abs(at) < 1) continue;
      const share = (1 - Math.abs(at) / width) * (1 - apart / height);
      for (const [i, curve] of curves.entries()) {
        let peak = -Infinity;
        for (const off of peaks) peak = Math.max(peak, valueAt(curve, at + off + most));
        let valley = 0;
        for (const off of VALLEYS) valley += valueAt(curve, at + off * pitch + most) / VALLEYS.length;
        gain += share * (peak - valley);
        found[i] += share * peak;
        for (let off = -WIDE; off <= WIDE; off++)
          wide[i] += (share * valueAt(curve, at + off + most)) / (2 * WIDE + 1);
      }
      weight += share;
    }
  }
  if (weight === 0) return { gain: 0, weight, peaks: found, wide };
  return {
    gain: gain / weight / (planes.length / SIGNS),
    weight,
    peaks: found.map((sum) => sum / weight),
    wide: wide.map((sum) => sum / weight),
  };
}

/** Between two samples; the outermost goes on beyond the end. */
function valueAt(curve: Float32Array, at: number): number {
  const inside = Math.max(0, Math.min(curve.length - 1.001, at));
  const i = Math.floor(inside);
  return curve[i] + (curve[i + 1] - curve[i]) * (inside - i);
}
