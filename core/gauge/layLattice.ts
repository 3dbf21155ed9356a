import type { Bond } from "#core/gauge/bond";
import { transposed, type Plane } from "#core/raster/plane";

/** A lattice of joints over a picture, in pixels. */
export interface Lattice {
  /** Where the first joint runs down, in the first course, and where the first bed runs across. */
  left: number;
  top: number;
  width: number;
  height: number;
  /** How far each course is shifted against the one above, as a part of the width. */
  shift: number;
  /** Columns are shifted in place of courses: each against the one to its left, as a part of the height. */
  upright?: boolean;
}

const SHIFTS: Record<Bond, number[]> = {
  stack: [0],
  half: [1 / 2],
  third: [1 / 3, -1 / 3],
  quarter: [1 / 4, -1 / 4],
  other: [1 / 5, -1 / 5, 2 / 5, -2 / 5],
  english: [0],
  flemish: [1 / 2],
  basket: [0],
  herringbone: [0],
  herringbone45: [0],
};

/** Places tried within one module. */
const STEPS = 48;

/** Lays the lattice of a count over a picture where its joints are: along lines with the largest change beside them. */
export function layLattice(
  plane: Plane,
  count: { across?: number; down?: number; bond: Bond; upright?: boolean },
): Lattice {
  if (count.upright) {
    const lying = { across: count.down, down: count.across, bond: count.bond };
    const { left, top, width, height, shift } = layLattice(transposed(plane), lying);
    return { left: top, top: left, width: height, height: width, shift, upright: true };
  }
  const { width, height } = plane;
  const module = { width: width / (count.across ?? 1), height: height / (count.down ?? 1) };
  const down = changes(plane, "down");
  const rows = Array.from({ length: height }, (_, y) => sumOf(down, y * width, width, 1));
  const top = count.down === undefined ? 0 : bestOffset(module.height, (at) => comb(rows, at, module.height));
  if (count.across === undefined) return { left: 0, top, ...module, shift: 0 };
  const across = changes(plane, "across");
  const courses = Math.max(1, count.down ?? 1);
  // Vertical joints course by course, in the middle of each, where no bed joint disturbs.
  const bands = Array.from({ length: courses }, (_, course) => {
    const band = new Float64Array(width);
    const from = top + (course + 0.25) * module.height;
    for (let y = Math.floor(from); y < from + module.height / 2; y++) {
      const row = (((y % height) + height) % height) * width;
      for (let x = 0; x < width; x++) band[x] += across[row + x];
    }
    return band;
  });
  let best = { left: 0, shift: 0, score: -Infinity };
  for (const shift of SHIFTS[count.bond]) {
    const score = (at: number) =>
      bands.reduce(
        (sum, band, course) => sum + comb(band, at + course * shift * module.width, module.width),
        0,
      );
    const left = bestOffset(module.width, score);
    if (score(left) > best.score) best = { left, shift, score: score(left) };
  }
  return { left: best.left, top, ...module, shift: best.shift };
}

/** Change at each place to the next one across or down, the picture going on at its other side, smoothed to the width of a joint. */
function changes({ width, height, data }: Plane, direction: "across" | "down"): Float32Array {
  const out = new Float32Array(data.length);
  for (let y = 0; y < height; y++) {
    const [row, below] = [y * width, ((y + 1) % height) * width];
    if (direction === "down")
      for (let x = 0; x < width; x++) out[row + x] = Math.abs(data[below + x] - data[row + x]);
    else {
      for (let x = 0; x < width - 1; x++) out[row + x] = Math.abs(data[row + x + 1] - data[row + x]);
      out[row + width - 1] = Math.abs(data[row] - data[row + width - 1]);
    }
  }
  return out;
}

function sumOf(values: Float32Array, from: number, count: number, step: number): number {
  let sum = 0;
  for (let k = 0; k < count; k++) sum += values[from + k * step];
  return sum;
}

/** What lies near equally spaced lines, the nearer the more: between the two flanks of a joint it is most. */
function comb(values: ArrayLike<number>, offset: number, pitch: number): number {
  const reach = Math.max(2, Math.round(pitch / 24));
  let sum = 0;
  for (let at = offset; at < offset + values.length - 0.5 * pitch; at += pitch)
    for (let i = Math.ceil(at - reach); i <= at + reach; i++)
      // A change lies between a pixel and the next one.
      sum +=
        (reach + 1 - Math.abs(i + 0.5 - at)) * values[((i % values.length) + values.length) % values.length];
  return sum;
}

/** The place within a module with the highest score, to half a pixel. */
function bestOffset(pitch: number, score: (at: number) => number): number {
  const best = (places: number[]) => {
    const scores = places.map(score);
    return places[scores.indexOf(Math.max(...scores))];
  };
  const step = pitch / STEPS;
  const near = best(Array.from({ length: STEPS }, (_, k) => k * step));
  const finer = Math.ceil(step / 0.5);
  const at = best(Array.from({ length: 2 * finer + 1 }, (_, k) => near + (k - finer) * 0.5));
  return ((at % pitch) + pitch) % pitch;
}
