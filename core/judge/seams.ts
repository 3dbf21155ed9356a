import { linearToLab } from "#core/raster/lab";
import { maxValue, type Raster } from "#core/raster/raster";
import { linearTable } from "#core/raster/srgb";

export const EDGES = ["left", "right", "top", "bottom"] as const;
export type Edge = (typeof EDGES)[number];

export interface EdgeReading {
  /** Median step across the edge against the median step inside, near that edge. About 1 is seamless. */
  score: number;
  /** The same for the 95th percentile, so that one bad joint shows. */
  high: number;
  /** Where along the edge it is worst, 0..1 from the left or the top. */
  worstAt: number;
}

export type SeamReading = Record<Edge, EdgeReading>;

/** From here on a seam is worth a look, and from here on it shows. */
export const SEAM_LOOK = 1.6;
export const SEAM_WRONG = 3;

/** Lines inside the image that the edge is compared with, nearest first. */
const INSIDE = 24;
/** Places along an edge that are told apart. */
const PLACES = 32;
/** Lines inside with the same change of value that an edge is compared with. */
const TWINS = 4;

/**
 * Compares the step across each edge, where the image meets its own copy, with the steps between neighbouring rows or
 * columns near it: in CIELAB for colour, in value for data. Where the same change of mean value occurs inside too, as at the joints
 * of a pattern whose edge lies on a joint, that step is what it is compared with. With a reduced image beside it the worse of the
 * two counts: a soft step shows there that single pixels hide.
 */
export function readSeams(raster: Raster, values: "color" | "data", small?: Raster): SeamReading {
  const fine = readEdges(raster, values);
  if (!small || Math.max(raster.width, raster.height) <= 2 * Math.max(small.width, small.height)) return fine;
  const coarse = readEdges(small, values);
  const worse = (edge: Edge) => (coarse[edge].score > fine[edge].score ? coarse[edge] : fine[edge]);
  return { left: worse("left"), right: worse("right"), top: worse("top"), bottom: worse("bottom") };
}

function readEdges(raster: Raster, values: "color" | "data"): SeamReading {
  const [upright, level] = [lineMeans(raster, true), lineMeans(raster, false)];
  const read = (edge: Edge) =>
    edgeReading(raster, edge, values, edge === "left" || edge === "right" ? upright : level);
  return { left: read("left"), right: read("right"), top: read("top"), bottom: read("bottom") };
}

/** The worst edge and its reading. */
export function worstEdge(seams: SeamReading): { edge: Edge } & EdgeReading {
  const edge = EDGES.reduce((worst, edge) => (seams[edge].score > seams[worst].score ? edge : worst));
  return { edge, ...seams[edge] };
}

/** Mean values of each column (upright) or row, by colour channel, by an even share of its samples. */
function lineMeans(raster: Raster, upright: boolean): Float32Array[] {
  const { width, height, channels, data } = raster;
  const colors = channels < 3 ? 1 : 3;
  const along = upright ? height : width;
  const step = Math.max(1, Math.floor(along / 512));
  const scale = 100 / maxValue(raster) / (Math.floor((along - 1) / step) + 1);
  return Array.from({ length: colors }, (_, channel) => {
    const means = new Float32Array(upright ? width : height);
    for (let y = 0; y < height; y += upright ? step : 1)
      for (let x = 0; x < width; x += upright ? 1 : step)
        means[upright ? x : y] += data[(y * width + x) * channels + channel];
    return means.map((sum) => sum * scale);
  });
}

/** The step from one line to the next one inwards, or the one after that, for each sample along them. */
function stepsAt(raster: Raster, edge: Edge, values: "color" | "data", line: number, span = 1): Float32Array {
  const a = lineAt(raster, edge, values, line);
  const b = lineAt(raster, edge, values, line + span);
  const out = new Float32Array(a.length / 3);
  for (let i = 0; i < out.length; i++)
    out[i] = Math.hypot(a[3 * i] - b[3 * i], a[3 * i + 1] - b[3 * i + 1], a[3 * i + 2] - b[3 * i + 2]);
  return out;
}

/** One line parallel to an edge, counted inwards from it (−1 is the copy's last line); three numbers a sample. */
function lineAt(raster: Raster, edge: Edge, values: "color" | "data", line: number): Float32Array {
  const upright = edge === "left" || edge === "right";
  const depth = upright ? raster.width : raster.height;
  const length = upright ? raster.height : raster.width;
  const step = Math.max(1, Math.floor(length / 1024));
  const out = new Float32Array((Math.floor((length - 1) / step) + 1) * 3);
  addLine(raster, upright, inwards(edge, depth, line), step, values, out);
  return out;
}

/** The column or row at a distance inwards from an edge, the image continuing at its other side. */
function inwards(edge: Edge, depth: number, at: number): number {
  const within = ((at % depth) + depth) % depth;
  return edge === "right" || edge === "bottom" ? depth - 1 - within : within;
}

function addLine(
  raster: Raster,
  upright: boolean,
  at: number,
  step: number,
  values: "color" | "data",
  out: Float32Array,
): void {
  const { width, channels, data } = raster;
  const max = maxValue(raster);
  const table = linearTable(raster.bitDepth);
  for (let i = 0; i * 3 < out.length; i++) {
    const along = i * step;
    const o = (upright ? along * width + at : at * width + along) * channels;
    if (channels < 3) out[3 * i] += (100 * data[o]) / max;
    else if (values === "data") for (let c = 0; c < 3; c++) out[3 * i + c] += (100 * data[o + c]) / max;
    else {
      const lab = linearToLab(table[data[o]], table[data[o + 1]], table[data[o + 2]]);
      for (let c = 0; c < 3; c++) out[3 * i + c] += lab[c];
    }
  }
}

function edgeReading(
  raster: Raster,
  edge: Edge,
  values: "color" | "data",
  means: Float32Array[],
): EdgeReading {
  const across = stepsAt(raster, edge, values, -1);
  const lines = means[0].length;
  const near = Array.from(
    { length: Math.max(1, Math.min(INSIDE, Math.floor(lines / 2) - 1)) },
    (_, line) => line,
  );
  const inside = middleAndHigh(join(near.map((line) => stepsAt(raster, edge, values, line))));
  const { lines: like, twin } = likeLines(edge, means);
  const figures = ({ line, span }: Step) => middleAndHigh(stepsAt(raster, edge, values, line, span));
  const twins = highestOf(like.map(figures));
  const same = twin ? figures(twin) : { middle: 0, high: 0 };
  // A quarter of an 8-bit step, so that flat images and rounding are seamless.
  const floor = 0.1;
  const own = middleAndHigh(across);
  const places = placeMedians(across);
  return {
    score: (own.middle + floor) / (Math.max(inside.middle, twins.middle, same.middle) + floor),
    high: (own.high + floor) / (Math.max(inside.high, twins.high, same.high) + floor),
    worstAt: (places.indexOf(Math.max(...places)) + 0.5) / places.length,
  };
}

interface Step {
  line: number;
  span: number;
}

/** The change of mean value is the same where it differs by less than this share of it, and is more than noise. */
const SAME_CHANGE = 0.35;
const LEAST_CHANGE = 0.5;

/**
 * Lines inside at which the mean value changes most nearly as it does across the edge (one that changes by the very same is
 * its twin, and counts alone: two tiles have but one joint inside); and, where the edge jumps as the
 * pattern's own joints do, those that jump most over one line or two: a joint may fall between two pixels or on one.
 */
function likeLines(edge: Edge, means: Float32Array[]): { lines: Step[]; twin?: Step } {
  const depth = means[0].length;
  const mean = (line: number) => means.map((channel) => channel[inwards(edge, depth, line)]);
  const apart = (a: number[], b: number[]) => a.reduce((sum, v, i) => sum + Math.abs(v - b[i]), 0);
  const [before, after] = [mean(-1), mean(0)];
  const inside = Array.from({ length: Math.max(0, depth - 2) }, (_, line) => {
    const [from, to] = [mean(line), mean(line + 1)];
    return { line, off: apart(from, before) + apart(to, after), jump: apart(from, mean(line + 2)) };
  });
  const jumps = inside.toSorted((a, b) => b.jump - a.jump).slice(0, TWINS);
  const usual = jumps[Math.floor(jumps.length / 2)]?.jump ?? 0;
  const own = apart(before, after);
  const joint = own > 0.3 * usual && own < 2 * usual;
  const nearest = inside.toSorted((a, b) => a.off - b.off).slice(0, TWINS);
  const lines = [
    ...nearest.map(({ line }) => ({ line, span: 1 })),
    ...(joint
      ? jumps.flatMap(({ line }) => [
          { line, span: 1 },
          { line, span: 2 },
        ])
      : []),
  ];
  const isTwin = nearest.length > 0 && own > LEAST_CHANGE && nearest[0].off < SAME_CHANGE * own;
  return { lines, ...(isTwin && { twin: { line: nearest[0].line, span: 1 } }) };
}

function join(parts: Float32Array[]): Float32Array {
  const out = new Float32Array(parts.reduce((sum, part) => sum + part.length, 0));
  let at = 0;
  for (const part of parts) {
    out.set(part, at);
    at += part.length;
  }
  return out;
}

/** The second highest of each figure, so that one odd line does not count. */
function highestOf(readings: { middle: number; high: number }[]): { middle: number; high: number } {
  const second = (values: number[]) => values.sort((a, b) => b - a)[Math.min(1, values.length - 1)] ?? 0;
  return {
    middle: second(readings.map(({ middle }) => middle)),
    high: second(readings.map(({ high }) => high)),
  };
}

/** The median and the 95th percentile; 0 for nothing. */
function middleAndHigh(steps: Float32Array): { middle: number; high: number } {
  if (steps.length === 0) return { middle: 0, high: 0 };
  const sorted = Float32Array.from(steps).sort();
  return { middle: quantile(sorted, 0.5), high: quantile(sorted, 0.95) };
}

function placeMedians(steps: Float32Array): number[] {
  const places = Math.min(PLACES, steps.length);
  return Array.from({ length: places }, (_, i) => {
    const from = Math.floor((i * steps.length) / places);
    const to = Math.floor(((i + 1) * steps.length) / places);
    return quantile(steps.slice(from, Math.max(from + 1, to)).sort(), 0.5);
  });
}

function quantile(sorted: Float32Array, share: number): number {
  return sorted[Math.min(sorted.length - 1, Math.floor(share * sorted.length))];
}
