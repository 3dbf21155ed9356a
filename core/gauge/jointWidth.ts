import type { Bond } from "#core/gauge/bond";
import type { Lattice } from "#core/gauge/layLattice";
import { transposed, type Plane } from "#core/raster/plane";

/** Bonds whose pieces lie in courses, with joints where the lattice draws them. */
const COURSED = new Set<Bond>(["stack", "half", "third", "quarter", "other"]);

/** How wide the joints of a lattice are. */
export interface JointWidth {
  /** Of the module with its joint, 0..1. */
  share: number;
  sure: number;
}

/** Between pieces, and between courses. */
export interface JointWidths {
  across?: JointWidth;
  down?: JointWidth;
}

/** In millimetres, beside a piece of a known work size. */
export const jointMm = (workMm: number, { share }: JointWidth) => (workMm * share) / (1 - share);

/** A joint takes no more of a module than this, on either side of the line that the lattice draws. */
const REACH = 0.25;
/** The middle of a piece, as a share of the module, that its joints are compared with. */
const MIDDLE = 0.5;
/** Thinner joints are blurred by their own pixels: the thinner, the less is said of their width. */
const THICK_PX = 4;
/** How many times its own scatter a joint stands out by, for nothing to be known of it and for all. */
const [NOTHING, PLAIN] = [3, 12];

/**
 * The width of the joints between pieces (across) and between courses (down), at half of how much they differ from the pieces: each
 * line of pieces is folded onto one module, less its own lightness.
 * @returns undefined in a direction that the lattice does not divide, and where no joint stands out
 */
export function jointWidths(
  plane: Plane,
  lattice: Lattice,
  count: { across?: number; down?: number; bond: Bond },
): JointWidths {
  if (!COURSED.has(count.bond)) return {};
  if (lattice.upright) {
    const { left, top, width, height, shift } = lattice;
    const lying = { left: top, top: left, width: height, height: width, shift };
    const { across, down } = jointWidths(transposed(plane), lying, {
      across: count.down,
      down: count.across,
      bond: count.bond,
    });
    return { ...(down && { across: down }), ...(across && { down: across }) };
  }
  const across = count.across === undefined ? undefined : widthOf(headProfiles(plane, lattice, count));
  const down = count.down === undefined ? undefined : widthOf(bedProfiles(plane, lattice, count));
  return { ...(across && { across }), ...(down && { down }) };
}

/** Lightness from half a module before a joint to half a module behind it, less that of the pieces beside it; one for each joint. */
type Profiles = Float32Array[];

function bedProfiles(
  { width, height, data }: Plane,
  lattice: Lattice,
  { down = 1 }: { down?: number },
): Profiles {
  const rows = new Float32Array(height);
  for (let y = 0, i = 0; y < height; y++) for (let x = 0; x < width; x++, i++) rows[y] += data[i] / width;
  return Array.from({ length: down }, (_, course) =>
    levelled(rows, lattice.top + course * lattice.height, lattice.height),
  );
}

function headProfiles(
  { width, height, data }: Plane,
  lattice: Lattice,
  { across = 1, down = 1 }: { across?: number; down?: number },
): Profiles {
  const profiles: Profiles = [];
  for (let course = 0; course < down; course++) {
    const columns = new Float32Array(width);
    const from = Math.round(lattice.top + course * lattice.height + ((1 - MIDDLE) / 2) * lattice.height);
    const rows = Math.max(1, Math.round(MIDDLE * lattice.height));
    for (let y = from; y < from + rows; y++) {
      const row = (((y % height) + height) % height) * width;
      for (let x = 0; x < width; x++) columns[x] += data[row + x] / rows;
    }
    const left = lattice.left + course * lattice.shift * lattice.width;
    for (let piece = 0; piece < across; piece++)
      profiles.push(levelled(columns, left + piece * lattice.width, lattice.width));
  }
  return profiles;
}

/** A line of a picture that goes on at its other side, around one place. */
function levelled(line: Float32Array, at: number, module: number): Float32Array {
  const half = Math.floor(module / 2);
  const value = (k: number) => {
    const place = at + k - 0.5;
    const below = Math.floor(place);
    const share = place - below;
    const sample = (i: number) => line[((i % line.length) + line.length) % line.length];
    return (1 - share) * sample(below) + share * sample(below + 1);
  };
  const profile = Float32Array.from({ length: 2 * half + 1 }, (_, i) => value(i - half));
  const edge = Math.max(1, Math.round((module * MIDDLE) / 2));
  const level = (part: Float32Array) => part.reduce((sum, v) => sum + v, 0) / part.length;
  const [before, behind] = [level(profile.subarray(0, edge)), level(profile.subarray(-edge))];
  return profile.map((v, i) => v - (before + ((behind - before) * i) / (profile.length - 1)));
}

function widthOf(profiles: Profiles): JointWidth | undefined {
  const whole = widthIn(meanOf(profiles));
  if (!whole) return undefined;
  const { length } = profiles[0];
  const scatter = scatterAt(profiles, whole.at) / Math.sqrt(profiles.length) + 1e-4;
  const plain = Math.min(1, Math.max(0, (Math.abs(whole.height) / scatter - NOTHING) / (PLAIN - NOTHING)));
  if (plain === 0) return undefined;
  const halves = [0, 1]
    .map((odd) => profiles.filter((_, i) => i % 2 === odd))
    .filter((half) => half.length > 0);
  const widths = halves.map((half) => widthIn(meanOf(half))?.pixels ?? 0);
  const apart = (Math.max(...widths) - Math.min(...widths)) / whole.pixels;
  const agrees = halves.length < 2 ? 0.5 : Math.max(0, 1 - 2 * apart);
  const thick = Math.min(1, whole.pixels / THICK_PX);
  return { share: whole.pixels / length, sure: (0.4 + 0.55 * plain * agrees) * thick };
}

function meanOf(profiles: Profiles): Float32Array {
  const mean = new Float32Array(profiles[0].length);
  for (const profile of profiles)
    for (let i = 0; i < mean.length; i++) mean[i] += profile[i] / profiles.length;
  return mean;
}

function scatterAt(profiles: Profiles, at: number): number {
  const mean = profiles.reduce((sum, profile) => sum + profile[at], 0) / profiles.length;
  return Math.sqrt(profiles.reduce((sum, profile) => sum + (profile[at] - mean) ** 2, 0) / profiles.length);
}

/** The width at half height of what stands out most around the middle; flanks of opposite lightness count together. */
function widthIn(profile: Float32Array): { pixels: number; at: number; height: number } | undefined {
  const middle = (profile.length - 1) / 2;
  const reach = Math.floor(profile.length * REACH);
  let at = Math.round(middle);
  for (let i = Math.ceil(middle - reach); i <= middle + reach; i++)
    if (Math.abs(profile[i]) > Math.abs(profile[at])) at = i;
  const height = profile[at];
  if (Math.abs(height) < 0.004) return undefined;
  const half = Math.abs(height) / 2;
  const end = (step: 1 | -1) => {
    let i = at;
    while (Math.abs(i + step - middle) <= reach + 1 && Math.abs(profile[i + step]) >= half) i += step;
    const [inside, outside] = [Math.abs(profile[i]), Math.abs(profile[i + step] ?? 0)];
    return Math.abs(i - at) + (inside > outside ? (inside - half) / (inside - outside) : 0);
  };
  return { pixels: end(1) + end(-1), at, height };
}
