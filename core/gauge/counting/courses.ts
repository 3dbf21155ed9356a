import { BLOCK, type Along, type Evidence } from "#core/gauge/counting/evidence";
import { combOf, lineOf, type Comb } from "#core/gauge/counting/combs";
import { SHIFTS } from "#core/gauge/counting/lattice";
import type { Plane } from "#core/raster/plane";

const MOST = 64;
/** A course has at least so many samples, and a piece in it. */
const LEAST_SAMPLES = 5;

/** Lines that go through the whole picture, by their number: beds, or the joints between columns. */
export function beds({ courses, original }: Evidence, along: Along): Comb[] {
  const pixels = along === "down" ? original.height : original.width;
  return combsOf(meansOf(courses[along].beds)).filter(({ count }) => !areBlocks(count, pixels));
}

const areBlocks = (count: number, pixels: number) => Math.abs(pixels / count / BLOCK - 1) < 0.01;

/** How alike the lightness of one space is to that of the next, and of the next but one. */
const [UNLIKE, ALIKE] = [-0.5, 0.7];

/**
 * Whether lines come in pairs: the flanks of a corrugation, or both edges of a wide joint. Lightness then changes from one
 * space to the next, and is the same in the next but one.
 */
export function areFlanks({ courses }: Evidence, along: Along, count: number): boolean {
  if (count % 2 !== 0 || count < 6) return false;
  const profile = meansOf(courses[along].lightness);
  const pitch = profile.length / count;
  const level = smoothed(profile, Math.round(pitch));
  const off = profile.map((v, i) => v - level[i]);
  const likeness = (shift: number) => {
    let [ab, aa] = [0, 0];
    for (let i = 0; i < off.length; i++) {
      ab += off[i] * off[(i + Math.round(shift)) % off.length];
      aa += off[i] ** 2;
    }
    return aa > 0 ? ab / aa : 0;
  };
  return likeness(pitch) < UNLIKE && likeness(2 * pitch) > ALIKE;
}

/** Waves of lightness along one direction, as of a corrugated sheet whose flanks are too soft for edges. */
export interface Waves {
  count: number;
  /** Of all that changes in the means along them, the share that is the wave and its harmonics. */
  share: number;
  /** The wave's own amplitude, as a share of what changes anywhere in the picture. */
  amplitude: number;
}

/** Slower changes than so many to the picture are light, and so few waves are none. */
const SLOW = 3;
const LEAST_WAVES = 5;

export function wavesIn({ plane, courses, original }: Evidence, along: Along): Waves | undefined {
  const profile = meansOf(courses[along].lightness);
  const side = profile.length;
  const most = Math.min(MOST, Math.floor(side / LEAST_SAMPLES));
  const power = Float64Array.from({ length: side >> 1 }, (_, f) => {
    let [re, im] = [0, 0];
    for (let i = 0; i < side; i++) {
      re += profile[i] * Math.cos((2 * Math.PI * f * i) / side);
      im += profile[i] * Math.sin((2 * Math.PI * f * i) / side);
    }
    return f < SLOW ? 0 : (2 * (re * re + im * im)) / (side * side);
  });
  const all = power.reduce((sum, v) => sum + v, 0);
  let [mean, squares] = [0, 0];
  for (const v of plane.data) mean += v / plane.data.length;
  for (const v of plane.data) squares += (v - mean) ** 2 / plane.data.length;
  if (!(all > 0) || !(squares > 1e-9)) return undefined;
  const pixels = along === "down" ? original.height : original.width;
  let best: Waves | undefined;
  for (let count = LEAST_WAVES; count <= most; count++) {
    if (areBlocks(count, pixels)) continue;
    let own = 0;
    for (let f = count; f < power.length; f += count) own += power[f];
    // The fundamental has to be there itself: harmonics alone are another wave's.
    if (power[count] < 0.25 * own) continue;
    if (!best || own / all > best.share) best = { count, share: own / all, amplitude: own / squares };
  }
  return best;
}

function smoothed(profile: Float32Array, reach: number): Float32Array {
  const side = profile.length;
  return Float32Array.from(profile, (_, i) => {
    let sum = 0;
    for (let k = -reach; k <= reach; k++) sum += profile[(i + k + side) % side];
    return sum / (2 * reach + 1);
  });
}

function combsOf(profile: Float32Array): Comb[] {
  const line = lineOf(profile);
  return Array.from({ length: Math.min(MOST, Math.floor(profile.length / LEAST_SAMPLES)) }, (_, i) =>
    combOf(line, i + 1),
  ).filter((one) => one !== undefined);
}

/** Heads at equal distances in courses that are shifted against each other by a part of the distance. */
export interface Heads extends Comb {
  turns: number;
  steps: number;
}

/** By more steps only blocks of herringbone are shifted, which are no courses. */
const COURSE_SHIFTS = SHIFTS.filter(([, steps]) => steps <= 5);
/** Of a course, the part in whose middle heads are looked for: away from the beds. */
const INNER = 0.6;

/** Profiles along each course, of its heads or of its lightness, from the middle of the course. */
export function courseProfiles(
  { courses }: Evidence,
  along: Along,
  bed: Comb,
  what: "heads" | "lightness" = "heads",
): Float32Array[] {
  const { width, height, data } = courses[along][what];
  const pitch = height / bed.count;
  return Array.from({ length: bed.count }, (_, course) => {
    const out = new Float32Array(width);
    const from = Math.round(bed.first + (course + (1 - INNER) / 2) * pitch);
    const rows = Math.max(1, Math.round(INNER * pitch));
    for (let y = from; y < from + rows; y++) {
      const row = (((y % height) + height) % height) * width;
      for (let x = 0; x < width; x++) out[x] += data[row + x] / rows;
    }
    return out;
  });
}

/** The heads of all bonds, by their number: courses laid over each other as the bond shifts them. */
export function headsOf(profiles: Float32Array[]): Heads[] {
  const side = profiles[0].length;
  const most = Math.min(MOST, Math.floor(side / LEAST_SAMPLES));
  const found: Heads[] = [];
  for (const [turns, steps] of COURSE_SHIFTS) {
    if (profiles.length % steps !== 0) continue;
    // Courses that lie a whole number of steps apart have their heads at the same places, and are laid over each other first.
    const alike = Array.from({ length: steps }, (_, off) =>
      laid(
        profiles.filter((__, course) => course % steps === off),
        () => 0,
      ),
    );
    const whole = lineOf(alike[0]);
    for (let count = 1; count <= most; count++) {
      const shift = (turns * side) / (steps * count);
      const comb = combOf(steps === 1 ? whole : lineOf(laid(alike, (off) => off * shift)), count);
      if (comb) found.push({ ...comb, turns, steps });
    }
  }
  return found;
}

/** The mean of profiles, each moved back by its own distance. */
export function laid(profiles: Float32Array[], moved: (course: number) => number): Float32Array {
  const side = profiles[0].length;
  const out = new Float32Array(side);
  profiles.forEach((profile, course) => {
    const by = Math.round(moved(course));
    for (let x = 0; x < side; x++) out[x] += profile[(((x + by) % side) + side) % side] / profiles.length;
  });
  return out;
}

export function meansOf({ width, height, data }: Plane): Float32Array {
  const out = new Float32Array(height);
  for (let y = 0, i = 0; y < height; y++) for (let x = 0; x < width; x++, i++) out[y] += data[i] / width;
  return out;
}
