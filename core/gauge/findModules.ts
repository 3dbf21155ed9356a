import { forward } from "#core/raster/fft";
import { meanOf, resample, wrapped, type Plane } from "#core/raster/plane";

/** How the courses of a pattern lie to each other. */
export const BONDS = ["stack", "half", "third", "quarter", "herringbone"] as const;
export type Bond = (typeof BONDS)[number];

/** What a seamless picture repeats: whole numbers of modules, since it goes on at its other side. */
export interface ModuleCount {
  /** Modules across and courses down; undefined in a direction in which nothing repeats. For herringbone: its periods. */
  across?: number;
  down?: number;
  bond: Bond;
  /** How sure it is, 0..1. */
  sure: number;
}

/** From here on it counts as sure. */
export const SURE = 0.5;

/** Side of the square that is transformed. */
const SIDE = 512;
/** Most rows or columns alone: each has eight samples then. */
const MOST = SIDE / 8;
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
  const power = powerOf(planes);
  const totals = energyOf(power);
  const judged = models().map((model) => judge(model, power, totals));
  const both = judged.filter(({ model }) => model.cell <= 1 / 4);
  const [chosen] = both.filter(({ lift }) => lift >= LEAST_LIFT).sort((a, b) => b.score - a.score);
  if (chosen) {
    const { across, down, bond } = chosen.model;
    const found = settle(planes[0], { across, down, bond, sure: Math.min(1, 0.4 + chosen.lift) });
    // One module is nothing that repeats inside the picture.
    return {
      ...(found.across !== 1 && { across: found.across }),
      ...(found.down !== 1 && { down: found.down }),
      bond: found.across === 1 ? "stack" : found.bond,
      sure: found.sure,
    };
  }
  // Stripes: boards of random length have rows and nothing else.
  const rows = bestCount(power, "down");
  const columns = bestCount(power, "across");
  const down = rows && (!columns || rows.sure >= columns.sure) ? rows : undefined;
  const across = columns && !down ? columns : undefined;
  return {
    ...(across && { across: across.count }),
    ...(down && { down: down.count }),
    bond: "stack",
    // Rows alone are said with less weight: the joints between may only be too faint.
    sure: 0.7 * ((down ?? across)?.sure ?? 0),
  };
}

/**
 * Herringbone repeats like a quarter bond of pieces four times as long as high. It is told apart by its joints, of which
 * as many run down as across.
 */
function settle(plane: Plane, found: Required<ModuleCount>): ModuleCount {
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

/** Sum over the planes' edges, in which joints show however much the pieces differ; no plane outshouts the others. */
function powerOf(planes: Plane[]): Power {
  const out = new Float32Array(SIDE * SIDE);
  for (const plane of planes) {
    const standing = standingOut(amplitudes(edgesOf(resample(plane, SIDE, SIDE)), plane));
    let sum = 0;
    for (const v of standing) sum += v;
    if (sum > 0) for (let i = 0; i < out.length; i++) out[i] += standing[i] / sum;
  }
  return out;
}

/** Blocks of a JPEG are 8 px wide, and no modules. */
const BLOCK = 8;

function amplitudes(plane: Plane, original: Plane): Float32Array {
  const block = (f: number, pixels: number) => {
    const step = pixels / BLOCK;
    const nearest = Math.round(f / step) * step;
    return nearest > 0 && Math.abs(f - nearest) < 1;
  };
  const mean = meanOf(plane);
  const { data } = forward({ ...plane, data: plane.data.map((v) => v - mean) });
  const out = new Float32Array(SIDE * SIDE);
  for (let y = 0; y < SIDE; y++)
    for (let x = 0; x < SIDE; x++) {
      const i = y * SIDE + x;
      if (block(folded(x), original.width) || block(folded(y), original.height)) continue;
      const radius = Math.hypot(folded(x), folded(y));
      if (radius >= SLOW && radius <= FINE * SIDE) out[i] = Math.hypot(data[2 * i], data[2 * i + 1]);
    }
  return out;
}

const folded = (f: number) => (f > SIDE / 2 ? SIDE - f : f);

/** Size of the change at each place. */
function edgesOf(plane: Plane): Plane {
  const { width, height } = plane;
  const out = new Float32Array(plane.data.length);
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++)
      out[i] = Math.hypot(wrapped(plane, x + 1, y) - plane.data[i], wrapped(plane, x, y + 1) - plane.data[i]);
  return { width, height, data: out };
}

/** Frequencies to either side that one is compared with, and how far it has to rise above them. */
const NEAR = 7;
const RISES = 2.5;

/** What is left above the lower third of the neighbours in the same row and in the same column: grain and noise go. */
function standingOut(amplitude: Float32Array): Float32Array {
  const out = new Float32Array(amplitude.length);
  const around = new Float32Array(2 * NEAR);
  const usual = (fixed: number, at: number, step: number) => {
    for (let k = 1; k <= NEAR; k++) {
      around[2 * k - 2] = amplitude[fixed + ((at + k) % SIDE) * step];
      around[2 * k - 1] = amplitude[fixed + ((at - k + SIDE) % SIDE) * step];
    }
    return around.sort()[Math.floor(NEAR * 0.66)];
  };
  for (let y = 0; y < SIDE; y++)
    for (let x = 0; x < SIDE; x++) {
      const i = y * SIDE + x;
      if (amplitude[i] === 0) continue;
      const floor = Math.max(usual(y * SIDE, x, 1), usual(x, y, SIDE));
      out[i] = Math.max(0, amplitude[i] - RISES * floor);
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

/** The same for rows or columns alone, of which grain makes some by itself. */
const LEAST_STRIPES = 0.4;
/** Of rows or columns the largest number counts that explains nearly as much as the best. */
const NEARLY = 0.72;

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
  for (let n = 1; n <= MOST_ACROSS; n++)
    for (let m = 1; m <= MOST_DOWN; m++) {
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

/** How much of what changes in either direction a model explains above chance; the poorer of the two counts. */
function judge(model: Model, power: Power, totals: Totals) {
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
  const lift = model.cell < 1 ? (share - model.cell) / (1 - model.cell) : 0;
  return { model, lift, score: lift * model.cell ** -FINENESS };
}

/** The largest number whose multiples hold nearly all of what changes in one direction alone. */
function bestCount(power: Power, direction: "across" | "down"): { count: number; sure: number } | undefined {
  const energy = Array.from({ length: REACH + 1 }, (_, f) =>
    direction === "across" ? excess(power, f, 0) : excess(power, 0, f),
  );
  const total = energy.reduce((sum, v) => sum + v, 0);
  if (total <= 0) return undefined;
  const lift = Array.from({ length: MOST + 1 }, (_, n) => {
    if (n < 2) return 0;
    let sum = 0;
    for (let f = n; f <= REACH; f += n) sum += energy[f];
    return (sum / total - 1 / n) / (1 - 1 / n);
  });
  const best = Math.max(...lift);
  if (best < LEAST_STRIPES) return undefined;
  const count = lift.findLastIndex((value) => value >= best * NEARLY);
  return { count, sure: Math.min(1, lift[count]) };
}
