import { LEAST_CONTRAST } from "#core/judge/fingerprint";
import { meanChannel } from "#core/judge/likeness";
import { forward } from "#core/raster/fft";
import { deviationOf, lumaOf, meanOf } from "#core/raster/plane";
import type { Raster } from "#core/raster/raster";

/**
 * A point in a room in which pictures of one surface lie near each other, whichever part of it they show: mean colour, contrast, and
 * how the contrast is shared out over scales and directions. One unit is as far as parts of one surface commonly lie apart in it.
 */
export type PictureFigures = number[];

const SIDE = 256;
const DIRECTIONS = 4;
/** The coarsest scale, in cycles a side; each of the next is twice as fine. */
const COARSEST = 1.5;
/** How far parts of one surface differ, for a mean channel, the contrast (a logarithm), and each scale: measured on 290 textures cropped by 7 to 15 %. */
const UNITS = { channel: 0.032, contrast: 0.15, scales: [0.62, 0.44, 0.37, 0.29, 0.29, 0.33] };
/** What is less of the whole than this says nothing. */
const FAINT = 1e-4;
const SCALES = UNITS.scales.length;

/** @param small square reduction of 256 samples a side @returns 28 figures; null for an image without a picture in it */
export function pictureFigures(small: Raster): PictureFigures | null {
  const luma = lumaOf(small);
  const deviation = deviationOf(luma);
  if (deviation < LEAST_CONTRAST) return null;
  const shares = sharesOfContrast({ ...luma, data: windowed(luma.data, meanOf(luma)) });
  return [
    ...[0, 1, 2].map((channel) => meanChannel(small, channel) / UNITS.channel),
    Math.log(deviation) / UNITS.contrast,
    ...shares.map((share, i) => Math.log(share + FAINT) / UNITS.scales[Math.floor(i / DIRECTIONS)]),
  ];
}

/** Pictures of one pattern lie nearer than this, whatever their colours. */
const ONE_PATTERN = 8;
/** Mean colour and contrast, which come before the scales and directions. */
const OF_COLOR = 4;

/** Whether two pictures show one pattern at one scale, in whatever colours. */
export const isOnePattern = (one: PictureFigures, other: PictureFigures): boolean =>
  Math.hypot(...one.slice(OF_COLOR).map((figure, i) => figure - other[i + OF_COLOR])) < ONE_PATTERN;

/** Faded out towards the edges, which meet nothing where a picture was cropped. */
function windowed(data: Float32Array, mean: number): Float32Array {
  const fade = Float32Array.from({ length: SIDE }, (_, at) => Math.sin((Math.PI * (at + 0.5)) / SIDE));
  return data.map((v, i) => (v - mean) * fade[i % SIDE] * fade[Math.floor(i / SIDE)]);
}

/** The power at each scale in each direction, as a share of all. */
function sharesOfContrast(plane: { width: number; height: number; data: Float32Array }): number[] {
  const { data } = forward(plane);
  const power = new Float64Array(SCALES * DIRECTIONS);
  for (const { i, at, next } of (waves ??= wavesOfScales())) {
    const here = data[i] ** 2 + data[i + 1] ** 2;
    // Shared between two scales, so that a crop, which moves all of them a little, changes little.
    power[at] += here * (1 - next);
    if (at + DIRECTIONS < power.length) power[at + DIRECTIONS] += here * next;
  }
  const total = power.reduce((sum, one) => sum + one, 1e-12);
  return Array.from(power, (one) => one / total);
}

/** A wave: where it stands in a spectrum, its scale and direction, and how much of it belongs to the next scale. */
interface Wave {
  i: number;
  at: number;
  next: number;
}

/** The same for every picture. */
let waves: Wave[] | undefined;

function wavesOfScales(): Wave[] {
  const found: Wave[] = [];
  for (let v = -SIDE / 2; v < SIDE / 2; v++)
    for (let u = 0; u < SIDE / 2; u++) {
      const octaves = Math.log2(Math.hypot(u, v) / COARSEST);
      const scale = Math.floor(octaves);
      if (scale < 0 || scale >= SCALES) continue;
      const turn = ((Math.atan2(v, u) / Math.PI + 1) * DIRECTIONS + 0.5) % DIRECTIONS;
      found.push({
        i: (((v + SIDE) % SIDE) * SIDE + u) * 2,
        at: scale * DIRECTIONS + Math.floor(turn),
        next: octaves - scale,
      });
    }
  return found;
}
