import { blurred } from "#core/raster/blurred";
import { lightnessOf } from "#core/raster/lightness";
import { forward, inverse } from "#core/raster/fft";
import { resample, type Plane } from "#core/raster/plane";
import type { Raster } from "#core/raster/raster";

/** A place that catches the eye, and so tells where the image begins again. */
export interface LoudSpot {
  /** 0..1 from the left and from the top. */
  x: number;
  y: number;
  /** How much lighter (above 0) or darker it is than its surroundings, in L*. */
  lightness: number;
}

export interface RepetitionReading {
  /** 0 nothing gives the tiling away, 1 one loud spot does at once. */
  giveaway: number;
  /** How alike the image is to itself at the best shift inside it, 0..1: a pattern of equal modules hides its repeat. */
  likeItself: number;
  spots: LoudSpot[];
}

/** From here on the tiling is worth a look, and from here on it shows. */
export const REPETITION_LOOK = 0.35;
export const REPETITION_WRONG = 0.6;

const SIDE = 128;
/** What is seen over a whole wall: details from an eighth of the image upwards. */
const BLUR = SIDE / 28;
/** A difference in L* that is plain over a whole wall. */
const PLAIN = 6;

/**
 * How much a repeating colour map gives its tiling away over a wall, from its low frequencies: the loudest spot's
 * lightness against the rest, less the more the image is like itself at some shift inside it (autocorrelation). Spots are named
 * where they stand out of the spread of the others.
 */
export function readRepetition(colors: Raster): RepetitionReading {
  const low = blurred(resample(lightnessOf(colors), SIDE, SIDE), BLUR);
  const likeItself = innerLikeness(low);
  const sorted = Float32Array.from(low.data).sort();
  const at = (share: number) => sorted[Math.floor(share * (sorted.length - 1))];
  const median = at(0.5);
  const spread = Math.max(0.35, (at(0.75) - at(0.25)) / 1.349);
  const spots = loudSpots(low, median, Math.max(1.2, 2.4 * spread));
  const loudest = spots.reduce((most, { lightness }) => Math.max(most, Math.abs(lightness)), 0);
  const standsOut = Math.min(1, loudest / spread / 5);
  return {
    giveaway: Math.min(1, loudest / PLAIN) * standsOut * (1 - 0.8 * likeItself),
    likeItself,
    spots: spots.slice(0, 5),
  };
}

/** The highest autocorrelation at a shift of an eighth of the image or more, 0..1. */
function innerLikeness(plane: Plane): number {
  const spectrum = forward(plane);
  const { width, height, data } = spectrum;
  for (let i = 0; i < data.length; i += 2) {
    data[i] = i === 0 ? 0 : data[i] ** 2 + data[i + 1] ** 2;
    data[i + 1] = 0;
  }
  const auto = inverse(spectrum).data;
  if (auto[0] < 1e-3) return 1;
  let best = 0;
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const far = Math.hypot(Math.min(x, width - x), Math.min(y, height - y)) >= width / 8;
      if (far) best = Math.max(best, auto[y * width + x] / auto[0]);
    }
  return Math.min(1, best);
}

/** Local extremes further from the median than a threshold, loudest first, no two close together. */
function loudSpots(low: Plane, median: number, threshold: number): LoudSpot[] {
  const { width, height, data } = low;
  const spots: LoudSpot[] = [];
  const found = Array.from(data, (value, i) => ({ i, lightness: value - median }))
    .filter(({ lightness }) => Math.abs(lightness) > threshold)
    .sort((a, b) => Math.abs(b.lightness) - Math.abs(a.lightness));
  for (const { i, lightness } of found) {
    const x = ((i % width) + 0.5) / width;
    const y = (Math.floor(i / width) + 0.5) / height;
    const near = (a: number, b: number) => Math.min(Math.abs(a - b), 1 - Math.abs(a - b));
    if (spots.every((spot) => Math.hypot(near(spot.x, x), near(spot.y, y)) > 0.16))
      spots.push({ x, y, lightness });
    if (spots.length === 8) break;
  }
  return spots;
}
