import { maxValue, type Raster } from "#core/raster/raster";
import { linearTable } from "#core/raster/srgb";

/** An image as numbers to be read between its pixels; colours in linear light, data 0..1. */
export interface Texture {
  width: number;
  height: number;
  channels: 1 | 3;
  data: Float32Array;
  /** Whether it continues at its other side. */
  wraps: boolean;
}

/**
 * Decodes an image, averaged over squares of pixels in the same pass.
 * @param reduce side of the squares in pixels; a rest at the edge goes into the last ones
 */
export function textureOf(
  raster: Raster,
  { holds, reduce = 1, wraps }: { holds: "color" | "data" | "vectors"; reduce?: number; wraps: boolean },
): Texture {
  const channels = holds === "data" ? 1 : 3;
  const { data: codes, channels: step } = raster;
  const linear = holds === "color" ? linearTable(raster.bitDepth) : undefined;
  const width = Math.max(1, Math.floor(raster.width / reduce));
  const height = Math.max(1, Math.floor(raster.height / reduce));
  const data = new Float32Array(width * height * channels);
  // Data in colour is read by its luminance, as a delivery does; an image of one channel stands for all three.
  const taken = step >= 3 ? 3 : 1;
  const [columns, rows] = [edges(raster.width, width), edges(raster.height, height)];
  const sums = new Float64Array(width * taken);
  const add = taken === 3 ? addColors : addGreys;
  // Codes are summed as they are, and scaled once.
  const most = linear ? 1 : maxValue(raster);
  for (let y = 0; y < height; y++) {
    sums.fill(0);
    for (let row = rows[y]; row < rows[y + 1]; row++)
      add(sums, { codes, step, columns, linear, from: row * raster.width * step });
    for (let x = 0; x < width; x++) {
      const scale = 1 / (most * (rows[y + 1] - rows[y]) * (columns[x + 1] - columns[x]));
      const to = (y * width + x) * channels;
      const at = x * taken;
      if (channels === 1)
        data[to] =
          scale *
          (taken === 1 ? sums[at] : 0.2126 * sums[at] + 0.7152 * sums[at + 1] + 0.0722 * sums[at + 2]);
      else
        for (let channel = 0; channel < 3; channel++)
          data[to + channel] = scale * sums[at + (channel % taken)];
    }
  }
  return { width, height, channels, data, wraps };
}

/** Where each square begins, and the last one ends. */
const edges = (pixels: number, squares: number): Uint32Array =>
  Uint32Array.from({ length: squares + 1 }, (_, at) => Math.floor((at * pixels) / squares));

/** One row of pixels, and what its codes stand for; themselves where nothing is given. */
interface Row {
  codes: Raster["data"];
  /** Where it begins, and how many codes a pixel has. */
  from: number;
  step: number;
  columns: Uint32Array;
  linear: Float32Array | undefined;
}

function addGreys(sums: Float64Array, { codes, from, step, columns, linear }: Row): void {
  let at = from;
  for (let x = 0; x + 1 < columns.length; x++) {
    const end = from + columns[x + 1] * step;
    let sum = 0;
    if (linear) for (; at < end; at += step) sum += linear[codes[at]];
    else for (; at < end; at += step) sum += codes[at];
    sums[x] += sum;
  }
}

function addColors(sums: Float64Array, { codes, from, step, columns, linear }: Row): void {
  let at = from;
  for (let x = 0; x + 1 < columns.length; x++) {
    const end = from + columns[x + 1] * step;
    let [red, green, blue] = [0, 0, 0];
    if (linear)
      for (; at < end; at += step) {
        red += linear[codes[at]];
        green += linear[codes[at + 1]];
        blue += linear[codes[at + 2]];
      }
    else
      for (; at < end; at += step) {
        red += codes[at];
        green += codes[at + 1];
        blue += codes[at + 2];
      }
    sums[x * 3] += red;
    sums[x * 3 + 1] += green;
    sums[x * 3 + 2] += blue;
  }
}

/**
 * Reads between the four nearest pixels.
 * @param u 0..1 from left to right, further where it wraps @param v the same downwards
 */
export function sample(texture: Texture, u: number, v: number, channel = 0): number {
  const { width, height, channels, data, wraps } = texture;
  const x = u * width - 0.5;
  const y = v * height - 0.5;
  const left = Math.floor(x);
  const top = Math.floor(y);
  const fx = x - left;
  const fy = y - top;
  const x0 = placed(left, width, wraps);
  const x1 = placed(left + 1, width, wraps);
  const y0 = placed(top, height, wraps) * width;
  const y1 = placed(top + 1, height, wraps) * width;
  const above = data[(y0 + x0) * channels + channel] * (1 - fx) + data[(y0 + x1) * channels + channel] * fx;
  const below = data[(y1 + x0) * channels + channel] * (1 - fx) + data[(y1 + x1) * channels + channel] * fx;
  return above * (1 - fy) + below * fy;
}

function placed(at: number, length: number, wraps: boolean): number {
  if (at >= 0 && at < length) return at;
  if (!wraps) return at < 0 ? 0 : length - 1;
  const rest = at % length;
  return rest < 0 ? rest + length : rest;
}
