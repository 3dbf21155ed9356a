import { levelled } from "#core/gauge/counting/levelled";
import { jointsOf } from "#core/gauge/joints";
import { inverseBoth, jointPower } from "#core/raster/fft";
import { resample, transposed, type Plane } from "#core/raster/plane";

/** What a picture shows of its repeats, on a grid of powers of two. */
export interface Evidence {
  width: number;
  height: number;
  /** Of the picture itself, px. */
  original: { width: number; height: number };
  /** The picture on the grid, and what changes across lines that run down, across, and along both diagonals; levelled, in their own spreads. */
  plane: Plane;
  joints: [down: Plane, across: Plane, falling: Plane, rising: Plane];
  /** The same laid so that courses that follow each other in a direction run along the rows. */
  courses: Record<Along, Laid>;
  /** The joints of the first map as they are, not levelled. */
  unlevelled: Plane[];
  /** Energy by frequency of all joints together, both halves, without light and the blocks of a JPEG. */
  energy: Float32Array;
  /** How much the joints are like themselves after each shift, −1..1: by what changes across, and by what changes down. */
  acrossLikeness: Plane;
  downLikeness: Plane;
}

/** In which direction courses follow each other: down for beds that run across, across for boards that stand. */
export type Along = "down" | "across";

/** A picture whose courses run along the rows. */
export interface Laid {
  lightness: Plane;
  /** What changes across beds, and across heads. */
  beds: Plane;
  heads: Plane;
  /** Running sums of both along the joints, of beds by rows and of heads by columns, and of the lightness by rows; `side + 1` numbers each. */
  bedSums: Float64Array;
  headSums: Float64Array;
  lightSums: Float64Array;
}

const LEAST_SIDE = 64;
const MOST_SIDE = 512;
/** Slower changes than so many to the picture are light, and no modules. */
const SLOW = 0.75;
/** Finer detail than a module's joints is grain: harmonics above this share of the samples are left out. */
const FINE = 0.42;
/** Blocks of a JPEG are 8 px wide, and no modules. */
export const BLOCK = 8;

/** @param planes maps of one size that lie over each other; the joints of all count the same */
export function evidenceOf(planes: Plane[]): Evidence {
  const [{ width: widthPx, height: heightPx }] = planes;
  const reduced = Math.max(1, widthPx / MOST_SIDE, heightPx / MOST_SIDE);
  const [width, height] = [widthPx, heightPx].map((px) => nearestPower(px / reduced));
  const onGrid = planes.map((plane) => resample(plane, width, height));
  const found = onGrid.map(jointsOf);
  const all = found.map((joints) => joints.map(levelled));
  const joints = all[0].map((first, d) =>
    summed([first, ...all.slice(1).map((other) => other[d])]),
  ) as Evidence["joints"];
  const keep = kept(width, height, widthPx, heightPx);
  const energy = new Float32Array(width * height);
  for (const [a, b] of [joints.slice(0, 2), joints.slice(2)]) {
    const { data } = jointPower(a, b);
    for (let i = 0; i < energy.length; i++) if (keep[i]) energy[i] += data[i];
  }
  const [acrossLikeness, downLikeness] = likenesses(energy, width, height);
  const [plane] = onGrid;
  const standing = transposed(plane);
  const [upright, level] = [transposed(joints[0]), joints[1]];
  const [uprightSums, levelSums] = [runningSums(upright), runningSums(level)];
  return {
    width,
    height,
    original: { width: widthPx, height: heightPx },
    plane,
    joints,
    unlevelled: found[0],
    courses: {
      down: {
        lightness: plane,
        beds: level,
        heads: joints[0],
        bedSums: levelSums,
        headSums: uprightSums,
        lightSums: runningSums(plane),
      },
      across: {
        lightness: standing,
        beds: upright,
        heads: transposed(level),
        bedSums: uprightSums,
        headSums: levelSums,
        lightSums: runningSums(standing),
      },
    },
    energy,
    acrossLikeness,
    downLikeness,
  };
}

/** Of each row its running sums, from 0 on. */
function runningSums({ width, height, data }: Plane): Float64Array {
  const out = new Float64Array((width + 1) * height);
  for (let y = 0, i = 0; y < height; y++) {
    let o = y * (width + 1);
    for (let x = 0; x < width; x++, i++, o++) out[o + 1] = out[o] + data[i];
  }
  return out;
}

const nearestPower = (side: number) =>
  2 ** Math.round(Math.log2(Math.min(MOST_SIDE, Math.max(LEAST_SIDE, side))));

function summed(planes: Plane[]): Plane {
  if (planes.length === 1) return planes[0];
  const data = planes[0].data.slice();
  for (const { data: other } of planes.slice(1)) for (let i = 0; i < data.length; i++) data[i] += other[i];
  return { ...planes[0], data };
}

/** Frequencies that can be modules. */
function kept(width: number, height: number, widthPx: number, heightPx: number): Uint8Array {
  const folded = (f: number, side: number) => (f > side / 2 ? side - f : f);
  const isBlock = (f: number, pixels: number) => {
    const step = pixels / BLOCK;
    const nearest = Math.round(f / step) * step;
    return nearest > 0 && Math.abs(f - nearest) < 0.75;
  };
  const line = (side: number, pixels: number) =>
    Array.from({ length: side }, (_, f) => !isBlock(folded(f, side), pixels));
  const [columns, rows] = [line(width, widthPx), line(height, heightPx)];
  const out = new Uint8Array(width * height);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const [fx, fy] = [folded(x, width), folded(y, height)];
      const isFine = Math.hypot(fx / width, fy / height) > FINE;
      if (columns[x] && rows[y] && !isFine && Math.hypot(fx, fy) > SLOW) out[y * width + x] = 1;
    }
  return out;
}

/**
 * The correlation with itself after each shift, by what changes across and by what changes down: the spectra are real and
 * even, so that one transform gives both.
 */
function likenesses(energy: Float32Array, width: number, height: number): [Plane, Plane] {
  const data = new Float64Array(2 * width * height);
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      if (x !== 0) data[2 * i] = energy[i];
      if (y !== 0) data[2 * i + 1] = energy[i];
    }
  return inverseBoth({ width, height, data }).map((plane) => {
    const whole = plane.data[0];
    if (whole > 0) for (let i = 0; i < plane.data.length; i++) plane.data[i] /= whole;
    return plane;
  }) as [Plane, Plane];
}
