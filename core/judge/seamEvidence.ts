import type { Plane } from "#core/raster/plane";
import { openRows, VECTOR } from "#core/raster/simd/rows";

/**
 * What speaks for it that a picture does not continue from its last row to its first: every figure compares what is found across
 * the edge with the same inside the picture.
 */
export interface SeamEvidence {
  /** The step across the edge against those of the lines beside it, as a logarithm, where it changes along the edge. */
  alone: number;
  /** How rare a step as much alone is inside, as −log of the share of lines that reach it; and the same between means of three. */
  rare: number;
  rareInThrees: number;
  /** The step against the largest inside that jumps as much on the whole: a joint on the edge has its like inside. */
  likeJoints: number;
  /** A step that is the same all along, between edges that run level: light that falls off. */
  level: number;
  /** How far the rows near both edges are less alike than neighbours are. */
  estranged: number;
  /**
   * Rows that lie d apart are as alike as rows that lie height − d apart, where a picture continues. How far they are not, for what
   * changes along the rows and for their means, times how much the picture is like itself at all: modules that are cut short, and
   * courses whose bond is broken.
   */
  cutDetail: number;
  cutCourses: number;
  /** How much the means of rows are like themselves at some distance. */
  courses: number;
}

/** Half of an 8-bit step, below which nothing is a step. */
const FLOOR = 0.002;
/** Widest joint whose flanks are looked at, as a share of the height. */
const JOINT = 1 / 48;
/** Nearest rows, as a share of the height, that are compared with those as near to the other edge. */
const NEAREST = 0.25;
/** Pairs of rows that are enough for one distance. */
const PAIRS = 64;

/** Reads the edge between the last row and the first of a plane of 0..1, at least 24 rows high. */
export function readSeamEvidence(plane: Plane): SeamEvidence {
  const { height } = plane;
  const rows = rowsOf(plane);
  const { step, jump, detail, means } = rows;
  let likeJoint = 0;
  for (let y = 2; y <= height - 2; y++) {
    if (Math.abs(jump[0]) > 0.01 && Math.abs(jump[y]) > 0.6 * Math.abs(jump[0]))
      likeJoint = Math.max(likeJoint, step[y]);
  }
  const even = Math.abs(jump[0]) / (step[0] + 2 * FLOOR);
  const flanks = Math.log((flankOf(means) + 2 * FLOOR) / (Math.abs(jump[0]) + 2 * FLOOR));
  const { detail: c, courses: q } = likenesses(plane, means);
  const [inDetail, inCourses] = [foldedDifference(c), foldedDifference(q)];
  return {
    alone: Math.log((step[0] + 2 * FLOOR) / (0.5 * (step[height - 1] + step[1]) + 2 * FLOOR)) * (1 - even),
    rare: rarity(detail, 1, FLOOR),
    rareInThrees: rarity(stepsOfMeans(plane, 3), 3, 2 * FLOOR),
    likeJoints: likeJoint > 0 ? Math.log((step[0] + FLOOR) / (likeJoint + FLOOR)) : 0,
    level: even * Math.min(3, Math.max(0, -flanks)),
    estranged: c[1] - c[height - 1],
    cutDetail: inDetail.apart * Math.max(0, inDetail.peak),
    cutCourses: inCourses.apart * Math.max(0, inCourses.peak),
    courses: inCourses.peak,
  };
}

/**
 * A logistic model. Its weights come from 250 pictures, 99 of them real textures, each whole, cropped by 7 to 15 % and lit from a
 * side; none of them is in the tables of the hold-outs but those of one package, which is left out where figures are told.
 */
const WEIGHTS: Record<keyof SeamEvidence, number> = {
  alone: 1.76,
  rare: 0.315,
  rareInThrees: 0.192,
  likeJoints: -0.468,
  level: 1.896,
  estranged: 0.046,
  cutDetail: 4.748,
  cutCourses: 3.604,
  courses: -1.725,
};
const OFFSET = -2.319;

/**
 * A bond that does not go on is enough by itself, though no step shows: a crop from joint to joint. Of pictures that continue, one
 * in a hundred reaches 0.22.
 */
const BROKEN_BOND = { from: 0.4, steepness: 16 };

/** How likely it is that the picture does not continue, 0..1. */
export function brokenness(evidence: SeamEvidence): number {
  let sum = OFFSET;
  for (const key of Object.keys(WEIGHTS) as (keyof SeamEvidence)[]) sum += WEIGHTS[key] * evidence[key];
  const bond = logistic(BROKEN_BOND.steepness * (evidence.cutDetail - BROKEN_BOND.from));
  return 1 - (1 - logistic(sum)) * (1 - bond);
}

const logistic = (v: number) => 1 / (1 + Math.exp(-v));

/** How few lines inside have a step that stands out as much from those beside it as the one across the edge does. */
function rarity(steps: Float64Array, span: number, floor: number): number {
  const { length } = steps;
  const at = (y: number) => steps[(y + length) % length];
  const alone = (y: number) => (at(y) + floor) / (0.5 * (at(y - span) + at(y + span)) + floor);
  const own = alone(0);
  let [reached, all] = [0, 0];
  for (let y = 2 * span; y <= length - 2 * span; y++, all++) if (alone(y) >= own) reached++;
  return -Math.log(reached / all + 0.003);
}

/** The step from the mean of some rows to that of the next ones, less its own mean: noise and thin joints weigh less. */
function stepsOfMeans({ width, height, data }: Plane, span: number): Float64Array {
  const steps = new Float64Array(height);
  const difference = new Float32Array(width);
  for (let y = 0; y < height; y++) {
    difference.fill(0);
    for (let j = 0; j < span; j++) {
      const after = ((y + j) % height) * width;
      const before = ((y - 1 - j + height) % height) * width;
      for (let x = 0; x < width; x++) difference[x] += (data[after + x] - data[before + x]) / span;
    }
    let [sum, around] = [0, 0];
    for (let x = 0; x < width; x++) sum += difference[x];
    const mean = sum / width;
    for (let x = 0; x < width; x++) around += Math.abs(difference[x] - mean);
    steps[y] = around / width;
  }
  return steps;
}

/** From each row's predecessor, the last row's successor being the first: the mean step, the step of its mean, and what is left of it. */
function rowsOf({ width, height, data }: Plane) {
  const [step, jump] = [new Float64Array(height), new Float64Array(height)];
  const [detail, means] = [new Float64Array(height), new Float64Array(height)];
  for (let y = 0; y < height; y++) {
    const [row, before] = [y * width, ((y - 1 + height) % height) * width];
    let [steps, difference, sum] = [0, 0, 0];
    for (let x = 0; x < width; x++) {
      const d = data[row + x] - data[before + x];
      steps += Math.abs(d);
      difference += d;
      sum += data[row + x];
    }
    [step[y], jump[y], means[y]] = [steps / width, difference / width, sum / width];
    let rest = 0;
    for (let x = 0; x < width; x++) rest += Math.abs(data[row + x] - data[before + x] - jump[y]);
    detail[y] = rest / width;
  }
  return { step, jump, detail, means };
}

/** The largest change of mean within the width of a joint on either side of the edge. */
function flankOf(means: Float64Array): number {
  const { length } = means;
  let largest = 0;
  for (let j = 1; j <= Math.max(3, Math.round(length * JOINT)); j++)
    largest = Math.max(
      largest,
      Math.abs(means[length - 1] - means[length - 1 - j]),
      Math.abs(means[0] - means[j]),
    );
  return largest;
}

/**
 * How alike rows are that lie 1, 2, … apart inside the picture, by what is not the same in all of them, and by their means. Only at
 * the distances that are looked at: the nearest, the farthest, and those in between from `NEAREST` on.
 */
function likenesses({ width, height, data }: Plane, means: Float64Array) {
  // Each row ends in zeros, up to a whole number of vectors.
  const stride = Math.ceil((width * 4) / VECTOR) * (VECTOR / 4);
  const { kernels, floats } = openRows(stride * height * 4 + 3 * VECTOR);
  const rest = floats(stride * height);
  const mean = means.reduce((sum, v) => sum + v, 0) / height;
  let energy = 0;
  for (let x = 0; x < width; x++) {
    let column = 0;
    for (let y = 0; y < height; y++) column += data[y * width + x] - means[y];
    column /= height;
    for (let y = 0; y < height; y++) {
      const v = data[y * width + x] - means[y] - column;
      rest[y * stride + x] = v;
      energy += v * v;
    }
  }
  energy = energy / height + 1e-4 * width;
  const variance = means.reduce((sum, v) => sum + (v - mean) ** 2, 0) / height + 1e-5;
  const [detail, courses] = [new Float64Array(height), new Float64Array(height)];
  const nearest = Math.round(NEAREST * height);
  const rowAt = (y: number) => rest.byteOffset + y * stride * rest.BYTES_PER_ELEMENT;
  for (let apart = 1; apart < height; apart++) {
    const isLookedAt = apart === 1 || apart === height - 1 || (apart >= nearest && apart <= height - nearest);
    if (!isLookedAt) continue;
    const pairs = height - apart;
    const every = Math.max(1, Math.floor(pairs / PAIRS));
    let [product, used, ofMeans] = [0, 0, 0];
    for (let y = 0; y < pairs; y += every, used++)
      product += kernels.product(rowAt(y), rowAt(y + apart), stride);
    for (let y = 0; y < pairs; y++) ofMeans += (means[y] - mean) * (means[y + apart] - mean);
    detail[apart] = product / used / energy;
    courses[apart] = ofMeans / pairs / variance;
  }
  return { detail, courses };
}

/** How far a row of likenesses is from being the same read from its end, and its highest. */
function foldedDifference(likeness: Float64Array): { apart: number; peak: number } {
  const { length } = likeness;
  let [difference, all, peak, count] = [0, 0, 0, 0];
  for (let d = Math.round(NEAREST * length); d <= length / 2; d++, count++) {
    const [near, far] = [likeness[d], likeness[length - d]];
    difference += (near - far) ** 2;
    all += near ** 2 + far ** 2;
    peak = Math.max(peak, near);
  }
  return { apart: difference / (all + 0.02 * count), peak };
}
