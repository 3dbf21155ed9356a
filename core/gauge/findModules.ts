import { findStripes, type Stripes } from "#core/gauge/findStripes";
import { throughLines } from "#core/gauge/throughLines";
import { jointsOf } from "#core/gauge/joints";
import { jointPower } from "#core/raster/fft";
import { resample, type Plane } from "#core/raster/plane";

/** How the courses of a pattern lie to each other. */
export const BONDS = ["stack", "half", "third", "quarter", "herringbone", "herringbone45"] as const;
export type Bond = (typeof BONDS)[number];

/** What a seamless picture repeats: whole numbers of modules, since it goes on at its other side. */
export interface ModuleCount {
  /** Modules across and courses down; undefined in a direction in which nothing repeats. For both kinds of herringbone: its periods. */
  across?: number;
  down?: number;
  bond: Bond;
  /** Columns are shifted against each other, and not courses: boards that run up and down. */
  upright?: boolean;
  /** How sure it is, 0..1. */
  sure: number;
}

/** A count in both directions. */
type Counted = ModuleCount & { across: number; down: number };

/** From here on it counts as sure. */
export const SURE = 0.5;

/** Side of the square that is transformed. */
const SIDE = 512;
/** Slower changes than so many to the picture are light, and no modules. */
const SLOW = 1.5;
/** Finer detail than a module's joints is grain: harmonics above this share of the samples are left out. */
const FINE = 0.42;

/** What stands out of the energy around it, by frequency from 0; negative ones follow behind the positive. */
type Power = Float32Array;

/**
 * Counts the modules of a seamless picture. The energy of its pattern lies at the places of the reciprocal lattice of its
 * translations: multiples of the numbers across and down, slanted where courses are shifted. Of all models the one is
 * taken that explains much of what stands out with a small cell.
 * @param planes maps that lie over each other, of one size
 */
export function findModules(planes: Plane[]): ModuleCount {
  const reduced = planes.map((plane) => resample(plane, SIDE, SIDE));
  const joints = reduced.map(jointsOf);
  const power = powerOf(joints, planes);
  const totals = energyOf(power);
  const judged = models()
    .map((model) => judge(model, power, totals))
    .filter(({ lift }) => lift >= LEAST_LIFT)
    .sort((a, b) => b.score - a.score);
  const [{ width, height }] = planes;
  const rows = findStripes(joints[0][1], reduced[0], "down", height);
  const columns = findStripes(joints[0][0], reduced[0], "across", width);
  if (judged.length > 0) {
    const { model, lift } = notTooFine(judged, planes[0]);
    const { across, down, bond } = model;
    const counted = { across, down, bond, sure: Math.min(1, DOUBT + lift) };
    const standing = standingCount(counted, joints[0]);
    if (standing) return standing;
    if (isSlantedHerringbone(counted, planes[0], joints[0])) return { ...counted, bond: "herringbone45" };
    const found = settle(planes[0], counted);
    return { ...found, ...(bond === "stack" && halved(found, columns, rows)) };
  }
  // Stripes: boards of random length have rows and nothing else.
  const [stripes, direction] =
    rows.strength >= columns.strength ? [rows, "down" as const] : [columns, "across" as const];
  const sure = stripes.agreed
    ? Math.min(1, (stripes.strength - NO_STRIPES) / (CLEAR_STRIPES - NO_STRIPES))
    : Math.min(SURE - 0.1, 0.1 * (stripes.strength - NO_STRIPES));
  if (!(sure > 0)) return { bond: "stack", sure: 0 };
  return { [direction]: stripes.count, bond: "stack", sure };
}

/** How much of its lift a count lacks to be sure of itself. */
const DOUBT = 0.3;
/** Stripes that stand out less are noise, and from here on they are beyond doubt. */
const NO_STRIPES = 5.5;
const CLEAR_STRIPES = 9.5;
/** Stripes that may correct a count. */
const STRONG_STRIPES = 5;

/**
 * Joints that are seen as two edges make a stack look twice as fine. Its rows and columns tell.
 */
function halved(found: Counted, columns: Stripes, rows: Stripes): Partial<ModuleCount> {
  const half = (count: number, { count: stripes, strength }: Stripes) =>
    strength >= STRONG_STRIPES && count === 2 * stripes ? stripes : count;
  return { across: half(found.across, columns), down: half(found.down, rows) };
}

/** By how much more the lines that go through have to go through than the others. */
const THROUGH = 1.35;
/** And at least so far. */
const LEAST_THROUGH = 0.6;

/**
 * A bond of n modules in each of m courses, shifted by 1/s, is the same lattice as n·s columns of m/s modules. Its joints
 * tell which it is: beds go through from edge to edge, and what stands between them does not.
 */
function standingCount({ across, down, bond, sure }: Counted, joints: [Plane, Plane, Plane, Plane]) {
  const steps = { stack: 0, half: 2, third: 3, quarter: 4, herringbone: 0, herringbone45: 0 }[bond];
  if (steps === 0) return undefined;
  const columns = across * steps;
  const [up, level] = [throughLines(joints[0], "across", columns), throughLines(joints[1], "down", down)];
  if (up < LEAST_THROUGH || up < THROUGH * level) return undefined;
  return { across: columns, down: down / steps, bond, upright: true, sure };
}

/** Squares on their corners have a module twice as wide as high in half bond, to this part of it. */
const SQUARE = 0.06;
/** How much more the larger cell has to explain. */
const HERRINGBONE_LIFT = 1.2;

/**
 * Herringbone at 45° lies in a net of squares on their corners, of which a quarter of the edges is missing: the net
 * explains much of it with a cell a quarter as large. What is missing tells.
 */
function notTooFine(judged: Judged[], { width, height }: Plane): Judged {
  const [best] = judged;
  const { across, down, bond } = best.model;
  if (bond !== "half" || Math.abs(width / across / (height / down) / 2 - 1) > SQUARE) return best;
  const [larger] = judged
    .filter(
      ({ model }) =>
        model.bond === "stack" &&
        [1, 2, 4].some((by) => model.across * by === across && (model.down * 4) / by === down),
    )
    .sort((a, b) => b.lift - a.lift);
  return larger && larger.lift > HERRINGBONE_LIFT * best.lift ? larger : best;
}

/**
 * Herringbone repeats like a quarter bond of pieces four times as long as high. It is told apart by its joints, of which
 * as many run down as across.
 */
function settle(plane: Plane, found: Counted): Counted {
  const { width, height, data } = plane;
  if (found.bond !== "quarter") return found;
  const proportion = width / found.across / (height / found.down);
  if (Math.abs(proportion - 4) > 0.4) return found;
  let [across, down] = [0, 0];
  for (let y = 0; y < height - 1; y++)
    for (let x = 0; x < width - 1; x++) {
      const i = y * width + x;
      across += Math.abs(data[i + 1] - data[i]);
      down += Math.abs(data[i + width] - data[i]);
    }
  return down < 2 * across ? { ...found, down: found.down / 4, bond: "herringbone" } : found;
}

/** By how much more has to change across slanted lines than across upright and level ones. */
const SLANTED = 1.25;

/** A block of 2:1 laid at 45° repeats in cells of the same proportion, whose joints are all slanted. */
function isSlantedHerringbone(
  { across, down, bond }: Counted,
  { width, height }: Plane,
  joints: [Plane, Plane, Plane, Plane],
): boolean {
  const proportion = Math.abs(Math.log2(width / across / (height / down)));
  if (bond !== "stack" || Math.abs(proportion - 1) > SQUARE) return false;
  const [upright, level, falling, rising] = joints.map((plane) => sharedBy(plane, across, down));
  return falling + rising > SLANTED * (upright + level);
}

/** Places of a cell, across and down, that are looked at. */
const CELL = 48;

/** How much the places of a cell differ from each other, as the mean over all cells: what only some of them have goes. */
function sharedBy({ width, height, data }: Plane, across: number, down: number): number {
  const sums = new Float64Array(CELL * CELL);
  const counts = new Uint32Array(CELL * CELL);
  for (let y = 0; y < height; y++) {
    const row = (Math.floor((y * down * CELL) / height) % CELL) * CELL;
    for (let x = 0; x < width; x++) {
      const place = row + (Math.floor((x * across * CELL) / width) % CELL);
      sums[place] += data[y * width + x];
      counts[place]++;
    }
  }
  const means = sums.map((sum, i) => (counts[i] > 0 ? sum / counts[i] : 0)).filter((_, i) => counts[i] > 0);
  const mean = means.reduce((sum, value) => sum + value, 0) / means.length;
  return Math.sqrt(means.reduce((sum, value) => sum + (value - mean) ** 2, 0) / means.length);
}

/** Sum over the planes' joints in all directions; no plane outshouts the others. */
function powerOf(joints: [Plane, Plane, Plane, Plane][], originals: Plane[]): Power {
  const out = new Float32Array(SIDE * SIDE);
  joints.forEach(([down, across, falling, rising], k) => {
    const [straight, slanted] = [jointPower(down, across), jointPower(falling, rising)];
    const standing = standingOut(amplitudes(straight, slanted, originals[k]));
    let sum = 0;
    for (const value of standing) sum += value;
    if (sum > 0) for (let i = 0; i < out.length; i++) out[i] += standing[i] / sum;
  });
  return out;
}

/** Blocks of a JPEG are 8 px wide, and no modules. */
const BLOCK = 8;

/** By frequency, of both planes together; light, grain and the blocks of a JPEG are left out. */
function amplitudes(a: Plane, b: Plane, original: Plane): Float32Array {
  const isBlock = (f: number, pixels: number) => {
    const step = pixels / BLOCK;
    const nearest = Math.round(f / step) * step;
    return nearest > 0 && Math.abs(f - nearest) < 1;
  };
  const folded = (f: number) => (f > SIDE / 2 ? SIDE - f : f);
  const leftOut = (pixels: number) => Array.from({ length: SIDE }, (_, f) => isBlock(folded(f), pixels));
  const [columns, rows] = [leftOut(original.width), leftOut(original.height)];
  const out = new Float32Array(SIDE * SIDE);
  for (let y = 0; y < SIDE; y++) {
    if (rows[y]) continue;
    const fy = folded(y) ** 2;
    for (let x = 0; x < SIDE; x++) {
      const radius = Math.sqrt(fy + folded(x) ** 2);
      if (columns[x] || radius < SLOW || radius > FINE * SIDE) continue;
      const i = y * SIDE + x;
      out[i] = Math.sqrt(a.data[i] + b.data[i]);
    }
  }
  return out;
}

/** Frequencies to either side that one is compared with, and how far it has to rise above them. */
const NEAR = 7;
const RISES = 2.5;

/** Of the neighbours in one row or column, so many from below is the usual one. */
const USUAL = 4;

/** What is left above the lower third of the neighbours in the same row and in the same column: grain and noise go. */
function standingOut(amplitude: Float32Array): Float32Array {
  const out = new Float32Array(amplitude.length);
  // The lowest of the neighbours, sorted: faster than sorting all of them.
  const lowest = new Float32Array(USUAL + 1);
  const usual = (fixed: number, at: number, step: number) => {
    lowest.fill(Infinity);
    for (let k = -NEAR; k <= NEAR; k++) {
      if (k === 0) continue;
      const value = amplitude[fixed + ((at + k + SIDE) % SIDE) * step];
      if (value >= lowest[USUAL]) continue;
      let place = USUAL;
      for (; place > 0 && lowest[place - 1] > value; place--) lowest[place] = lowest[place - 1];
      lowest[place] = value;
    }
    return lowest[USUAL];
  };
  for (let y = 0; y < SIDE; y++)
    // A real picture's spectrum is the same on the other half.
    for (let x = 0; x <= SIDE / 2; x++) {
      const i = y * SIDE + x;
      if (amplitude[i] === 0) continue;
      const left = amplitude[i] - RISES * usual(y * SIDE, x, 1);
      out[i] = left > 0 ? Math.max(0, Math.min(left, amplitude[i] - RISES * usual(x, y, SIDE))) : 0;
      out[((SIDE - y) % SIDE) * SIDE + ((SIDE - x) % SIDE)] = out[i];
    }
  return out;
}

const excess = (power: Power, x: number, y: number): number =>
  power[(((y % SIDE) + SIDE) % SIDE) * SIDE + (((x % SIDE) + SIDE) % SIDE)];

/**
 * A model with half the cell is better where it explains more than this power of a half of what the other does: a true
 * pattern loses little by it, one that is too fine loses half.
 */
const FINENESS = 0.4;
/** Of what stands out so much has to lie where a model has it, above what chance would put there. */
const LEAST_LIFT = 0.08;

interface Model {
  across: number;
  down: number;
  bond: Bond;
  /** Area of the cell that repeats, as a share of the picture. */
  cell: number;
  /** Calls back for each frequency of the model, of the half with x ≥ 0. */
  points(at: (x: number, y: number) => void): void;
}

const REACH = Math.floor(SIDE * FINE);
/** Most modules across and down, which keeps the models countable. */
const MOST_ACROSS = 32;
const MOST_DOWN = 48;

let made: Model[] | undefined;

/** All patterns that are told apart. */
function models(): Model[] {
  if (made) return made;
  made = [];
  for (let n = 2; n <= MOST_ACROSS; n++)
    for (let m = 2; m <= MOST_DOWN; m++) {
      made.push(coursed(n, m, 0, "stack"));
      for (const [steps, bond] of [
        [2, "half"],
        [3, "third"],
        [4, "quarter"],
      ] as const) {
        if (m % steps !== 0) continue;
        made.push(coursed(n, m, 1 / steps, bond));
        if (steps > 2) made.push(coursed(n, m, -1 / steps, bond));
      }
    }
  return made;
}

/** Courses in which each is shifted by a part of a module against the one before. */
function coursed(across: number, down: number, shift: number, bond: Bond): Model {
  return {
    across,
    down,
    bond,
    cell: 1 / (across * down),
    points(at) {
      for (let a = 0; a * across <= REACH; a++) {
        const start = Math.round(a * shift * down);
        for (let y = start - Math.floor((REACH + start) / down) * down; y <= REACH; y += down)
          if (a > 0 || y > 0) at(a * across, y);
      }
    },
  };
}

interface Totals {
  /** Of frequencies that change across, and of those that change down. */
  across: number;
  down: number;
}

function energyOf(power: Power): Totals {
  const totals = { across: 0, down: 0 };
  for (let x = 0; x <= REACH; x++)
    for (let y = x === 0 ? 1 : -REACH; y <= REACH; y++) {
      const value = excess(power, x, y);
      if (x !== 0) totals.across += value;
      if (y !== 0) totals.down += value;
    }
  return totals;
}

interface Judged {
  model: Model;
  /** Share of what stands out that it explains, above chance. */
  lift: number;
  score: number;
}

/** How much of what changes in either direction a model explains above chance; the poorer of the two counts. */
function judge(model: Model, power: Power, totals: Totals): Judged {
  let [across, down] = [0, 0];
  model.points((x, y) => {
    const value = excess(power, x, y);
    if (x !== 0) across += value;
    if (y !== 0) down += value;
  });
  const share = Math.min(
    totals.across > 0 ? across / totals.across : 0,
    totals.down > 0 ? down / totals.down : 0,
  );
  const lift = (share - model.cell) / (1 - model.cell);
  return { model, lift, score: lift * model.cell ** -FINENESS };
}
