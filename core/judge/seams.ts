import { brokenness, readSeamEvidence } from "#core/judge/seamEvidence";
import type { Direction } from "#core/raster/directions";
import { reducedPlane, transposed, type Plane } from "#core/raster/plane";
import { type Raster, maxValue } from "#core/raster/raster";

export const DIRECTION_WORDS: Record<Direction, string> = {
  across: "left to right",
  down: "top to bottom",
};

export interface DirectionSeam {
  /** How likely it is that the picture does not continue at its other side, 0..1. */
  broken: number;
  /** Where along the edge its step is largest, 0..1 from the left or the top. */
  worstAt: number;
}

export type SeamReading = Record<Direction, DirectionSeam>;

/** From here on a seam is worth a look, and from here on it is said to be one. */
export const SEAM_LOOK = 0.8;

export const SEAM_WRONG = 0.9;

/** Below this the picture is said to continue. */
export const SEAMLESS = 0.3;

/** Sides of the reduction that is read, the longer one or else the shorter: a seam shows at any size, and single pixels are noise. */
const LONGER = 256;

const SHORTER = 128;

/** Fewer lines than this have no inside to compare with. */
const LEAST = 24;

/** A mean step that 8 bits can hardly write down is no seam. */
const LEAST_STEP = 0.005;

/** Places along an edge that are told apart. */
const PLACES = 32;

/**
 * Whether a picture continues at its other side, in each direction, by its lightness or value; a normal map by how steep it is,
 * so that it is all the same which way green points.
 */
export function readSeams(raster: Raster, values: "color" | "data" | "normal"): SeamReading {
  const [shorter, longer] = [Math.min(raster.width, raster.height), Math.max(raster.width, raster.height)];
  const reduction = Math.min(1, Math.max(LONGER / longer, SHORTER / shorter));
  const plane = reducedPlane(
    raster,
    values === "normal" && raster.channels >= 3 ? steepness(raster) : lightness(raster),
    Math.max(1, Math.round(raster.width * reduction)),
    Math.max(1, Math.round(raster.height * reduction)),
  );
  return { across: readDirection(transposed(plane)), down: readDirection(plane) };
}

/** The direction that is worse, and its reading. */
export function worstSeam({ across, down }: SeamReading): { direction: Direction } & DirectionSeam {
  return across.broken > down.broken ? { direction: "across", ...across } : { direction: "down", ...down };
}

function lightness({ data, channels, ...form }: Raster): (offset: number) => number {
  const max = maxValue(form);
  return channels < 3
    ? (o) => data[o] / max
    : (o) => (0.2126 * data[o] + 0.7152 * data[o + 1] + 0.0722 * data[o + 2]) / max;
}

function steepness({ data, ...form }: Raster): (offset: number) => number {
  const half = maxValue(form) / 2;
  return (o) => Math.hypot(data[o] / half - 1, data[o + 1] / half - 1);
}

function readDirection(plane: Plane): DirectionSeam {
  const { width, height, data } = plane;
  const last = (height - 1) * width;
  const steps = Float32Array.from({ length: width }, (_, x) => Math.abs(data[x] - data[last + x]));
  const worstAt = worstPlace(steps);
  const isStep = steps.reduce((sum, v) => sum + v, 0) / width > LEAST_STEP;
  if (!isStep || height < LEAST || width < 8) return { broken: 0, worstAt };
  return { broken: brokenness(readSeamEvidence(plane)), worstAt };
}

function worstPlace(steps: Float32Array): number {
  const places = Math.min(PLACES, steps.length);
  let best = { place: 0, mean: -1 };
  for (let place = 0; place < places; place++) {
    const from = Math.floor((place * steps.length) / places);
    const to = Math.max(from + 1, Math.floor(((place + 1) * steps.length) / places));
    const mean = steps.subarray(from, to).reduce((sum, v) => sum + v, 0) / (to - from);
    if (mean > best.mean) best = { place, mean };
  }
  return (best.place + 0.5) / places;
}
