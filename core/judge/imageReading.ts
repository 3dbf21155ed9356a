import { directionByCurl, type DirectionReading } from "#core/judge/normalDirection";
import { readReflectance, type Reflectance } from "#core/judge/reflectance";
import { readSeams, type SeamReading } from "#core/judge/seams";
import { maxValue, type Raster } from "#core/raster/raster";

/** What the samples of one channel are like, in 0..1. */
export interface ChannelReading {
  min: number;
  max: number;
  mean: number;
  deviation: number;
  /** Third standardised moment: below 0 where a few dark places lie in a light map, as in an occlusion map. */
  skew: number;
  /** Shares of samples within 2 % of 0 and of full. */
  low: number;
  high: number;
}

/** What the pixels of one image say on their own, whatever it is called; see `rolesFromPixels` for what follows. */
export interface ImageReading extends Reflectance {
  /** One or three channels. */
  color: ChannelReading[];
  alpha: ChannelReading | null;
  /** Mean difference between the channels, 0..1; below `GREY` the image is grey. */
  spread: number;
  /** Smallest correlation between the detail of two channels: low where channels hold different things. */
  kinship: number;
  /** What the pixels are as vectors; null for one channel. */
  normal: VectorReading | null;
  /** Direction by integrability, where the image looks like a normal map. */
  direction: DirectionReading | null;
  /** Bits of information: 8 for a 16-bit file that holds no more. */
  usedBits: number;
  /** Steps at every eighth pixel against those between, about 1 without JPEG blocks. */
  blocks: number;
  /** Not there in what was read before seams were measured as they are now. */
  seams?: SeamReading;
}

export interface VectorReading {
  /** Shares of pixels that are vectors of length 1, and that point away from the surface. */
  unit: number;
  up: number;
  /** How far their mean leans to a side, 0 for straight up; not there in what was read before it was measured. */
  lean?: number;
}

/** Below this mean difference of channels an image is grey; JPEG's colour noise stays below it. */
export const GREY = 0.008;

/** Enough samples for every figure to settle within a percent. */
const SAMPLES = 2 ** 18;

/** Measures one decoded image. Statistics come from an even grid of samples, blocks from whole rows, seams from a reduction. */
export function readImage(raster: Raster): ImageReading {
  const grid = sampleGrid(raster);
  const colors = raster.channels < 3 ? 1 : 3;
  const color = Array.from({ length: colors }, (_, c) => channelReading(raster, grid, c));
  const normal = colors === 3 ? normalReading(raster, grid) : null;
  const asNormal = normal !== null && looksLikeNormal(normal);
  return {
    color,
    alpha: raster.channels % 2 === 0 ? channelReading(raster, grid, raster.channels - 1) : null,
    spread: colors === 3 ? channelSpread(raster, grid) : 0,
    kinship: colors === 3 ? kinship(raster, grid, color) : 1,
    normal,
    direction: asNormal ? directionByCurl(raster) : null,
    usedBits: usedBits(raster, grid),
    blocks: blockiness(raster),
    ...readReflectance(raster),
    seams: readSeams(raster, asNormal ? "normal" : colors === 3 ? "color" : "data"),
  };
}

/** A surface is level on the whole; a pale cream, read as vectors, leans by 0.7 and more. */
const MOST_LEAN = 0.4;

/** Whether nearly all pixels are unit vectors that point away from the surface. */
export const looksLikeNormal = ({ unit, up, lean = 0 }: VectorReading) =>
  unit > 0.85 && up > 0.98 && lean < MOST_LEAN;

/** Offsets of the first samples of evenly spread pixels. */
function sampleGrid({ width, height, channels }: Raster): Uint32Array {
  // An odd step falls on every place of JPEG's blocks in turn.
  const step = Math.max(1, Math.ceil(Math.sqrt((width * height) / SAMPLES))) | 1;
  const across = Math.ceil(width / step);
  const offsets = new Uint32Array(across * Math.ceil(height / step));
  let at = 0;
  for (let y = 0; y < height; y += step)
    for (let x = 0; x < width; x += step) offsets[at++] = (y * width + x) * channels;
  return offsets;
}

function channelReading(raster: Raster, grid: Uint32Array, channel: number): ChannelReading {
  const { data } = raster;
  const full = maxValue(raster);
  const near = full * 0.02;
  let [min, max, sum, low, high] = [full, 0, 0, 0, 0];
  for (const offset of grid) {
    const v = data[offset + channel];
    if (v < min) min = v;
    if (v > max) max = v;
    sum += v;
    if (v <= near) low++;
    else if (v >= full - near) high++;
  }
  const mean = sum / grid.length;
  let [second, third] = [0, 0];
  for (const offset of grid) {
    const d = data[offset + channel] - mean;
    second += d * d;
    third += d * d * d;
  }
  const deviation = Math.sqrt(second / grid.length);
  return {
    min: min / full,
    max: max / full,
    mean: mean / full,
    deviation: deviation / full,
    skew: deviation > full * 1e-4 ? third / grid.length / deviation ** 3 : 0,
    low: low / grid.length,
    high: high / grid.length,
  };
}

function channelSpread(raster: Raster, grid: Uint32Array): number {
  const { data } = raster;
  let sum = 0;
  for (const offset of grid) {
    const [r, g, b] = [data[offset], data[offset + 1], data[offset + 2]];
    sum += Math.max(r, g, b) - Math.min(r, g, b);
  }
  return sum / grid.length / maxValue(raster);
}

/** Correlations of R with G, G with B and R with B; a flat channel is kin to nothing. */
function kinship(raster: Raster, grid: Uint32Array, [r, g, b]: ChannelReading[]): number {
  const { data } = raster;
  const max = maxValue(raster);
  let [rg, gb, rb] = [0, 0, 0];
  for (const offset of grid) {
    const red = data[offset] / max - r.mean;
    const green = data[offset + 1] / max - g.mean;
    const blue = data[offset + 2] / max - b.mean;
    rg += red * green;
    gb += green * blue;
    rb += red * blue;
  }
  const correlation = (one: ChannelReading, other: ChannelReading, sum: number) => {
    const scale = one.deviation * other.deviation;
    if (scale < 1e-6) return one.deviation < 2e-3 && other.deviation < 2e-3 ? 1 : 0;
    return sum / grid.length / scale;
  };
  return Math.min(correlation(r, g, rg), correlation(g, b, gb), correlation(r, b, rb));
}

function normalReading(raster: Raster, grid: Uint32Array): VectorReading {
  const { data } = raster;
  const scale = 2 / maxValue(raster);
  let [unit, up, toRight, upward] = [0, 0, 0, 0];
  for (const offset of grid) {
    const [x, y, z] = [data[offset] * scale - 1, data[offset + 1] * scale - 1, data[offset + 2] * scale - 1];
    const length2 = x * x + y * y + z * z;
    if (length2 > 0.88 ** 2 && length2 < 1.12 ** 2) unit++;
    if (z > 0) up++;
    toRight += x;
    upward += y;
  }
  const count = grid.length;
  return { unit: unit / count, up: up / count, lean: Math.hypot(toRight, upward) / count };
}

/** Whether a 16-bit image is an 8-bit one in a larger file: padded, repeated, or with no more than 256 values in a wide range. */
function usedBits(raster: Raster, grid: Uint32Array): number {
  const { bitDepth, data, channels } = raster;
  if (bitDepth === 8) return 8;
  let [repeated, padded] = [true, true];
  for (let i = 0; i < data.length && (repeated || padded); i++) {
    if (data[i] % 257 !== 0) repeated = false;
    if ((data[i] & 0xff) !== 0) padded = false;
  }
  if (repeated || padded) return 8;
  const seen = new Uint8Array(65536);
  let [distinct, min, max] = [0, 65535, 0];
  for (const offset of grid)
    for (let c = 0; c < channels; c++) {
      const v = data[offset + c];
      if (seen[v] === 0) distinct++;
      seen[v] = 1;
      if (v < min) min = v;
      if (v > max) max = v;
    }
  return distinct <= 256 && max - min > 4096 && grid.length > 1024 ? 8 : 16;
}

/**
 * Mean step into every eighth pixel against the mean of the steps two to six pixels after it, along rows and along columns: the
 * smaller of the two, since a JPEG's blocks show in both. Large steps count no more than three usual ones, so that joints that
 * happen to lie on the grid are not taken for blocks.
 */
function blockiness(raster: Raster): number {
  if (raster.width < 64 || raster.height < 64) return 1;
  return Math.min(blocksAlong(raster, true), blocksAlong(raster, false));
}

function blocksAlong(raster: Raster, rows: boolean): number {
  const { width, height, channels, data } = raster;
  const [length, lines] = rows ? [width, height] : [height, width];
  const [step, lineStep] = rows ? [channels, width * channels] : [width * channels, channels];
  const stride = Math.max(1, Math.floor(lines / 96));
  // A tenth of an 8-bit step: less than that is no picture.
  const floor = maxValue(raster) / 2550;
  const usual = usualStep(raster, step, lineStep, length, lines, stride);
  const cap = 3 * usual + floor;
  let [edge, inside, edges, insides] = [0, 0, 0, 0];
  for (let line = 0; line < lines; line += stride)
    for (let at = 8; at < length; at++) {
      const phase = at & 7;
      if (phase === 1 || phase === 7) continue;
      const o = line * lineStep + at * step;
      const d = Math.min(cap, Math.abs(data[o] - data[o - step]));
      if (phase === 0) {
        edge += d;
        edges++;
      } else {
        inside += d;
        insides++;
      }
    }
  return (edge / edges + floor) / (inside / insides + floor);
}

/** Twice the mean of the smaller half of the steps, which lies near their median. */
function usualStep(
  raster: Raster,
  step: number,
  lineStep: number,
  length: number,
  lines: number,
  stride: number,
): number {
  const { data } = raster;
  const some: number[] = [];
  for (let line = 0; line < lines; line += stride * 4)
    for (let at = 9; at < length; at += 5) {
      const o = line * lineStep + at * step;
      some.push(Math.abs(data[o] - data[o - step]));
    }
  const half = some.sort((a, b) => a - b).slice(0, Math.ceil(some.length / 2));
  return (2 * half.reduce((sum, v) => sum + v, 0)) / Math.max(1, half.length);
}
