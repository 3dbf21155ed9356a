import { maxValue, type Raster } from "#core/raster/raster";

/** One channel as floating-point numbers, rows from the top; 0..1 where it came from an image. */
export interface Plane {
  width: number;
  height: number;
  data: Float32Array;
}

/** One channel of an image as 0..1. */
export function planeOf(raster: Raster, channel: number): Plane {
  const { width, height, channels, data } = raster;
  const max = maxValue(raster);
  const out = new Float32Array(width * height);
  for (let i = channel, o = 0; o < out.length; i += channels, o++) out[o] = data[i] / max;
  return { width, height, data: out };
}

/** Encoded luma (Rec. 709 weights on encoded values), which is near enough to lightness for comparing shapes. */
export function lumaOf(raster: Raster): Plane {
  if (raster.channels < 3) return planeOf(raster, 0);
  const { width, height, channels, data } = raster;
  const max = maxValue(raster);
  const out = new Float32Array(width * height);
  for (let i = 0, o = 0; o < out.length; i += channels, o++)
    out[o] = (0.2126 * data[i] + 0.7152 * data[i + 1] + 0.0722 * data[i + 2]) / max;
  return { width, height, data: out };
}

/** Reduced (or enlarged) to a size by averaging the area under each new sample. */
export function resample(plane: Plane, width: number, height: number): Plane {
  if (width === plane.width && height === plane.height) return plane;
  const across = new Float32Array(width * plane.height);
  average(plane.data, across, plane.width, width, plane.height, 1, plane.width, 1, width);
  const data = new Float32Array(width * height);
  average(across, data, plane.height, height, width, width, 1, width, 1);
  return { width, height, data };
}

/** Averages along one axis for all lines of the other. */
function average(
  from: Float32Array,
  to: Float32Array,
  length: number,
  newLength: number,
  lines: number,
  step: number,
  lineStep: number,
  newStep: number,
  newLineStep: number,
): void {
  const ratio = length / newLength;
  for (let i = 0; i < newLength; i++) {
    const start = i * ratio;
    const end = Math.max(start + 1e-6, (i + 1) * ratio);
    for (let at = Math.floor(start); at < Math.min(length, Math.ceil(end)); at++) {
      const weight = (Math.min(end, at + 1) - Math.max(start, at)) / (end - start);
      if (weight <= 0) continue;
      for (let line = 0; line < lines; line++)
        to[i * newStep + line * newLineStep] += weight * from[at * step + line * lineStep];
    }
  }
}

export function meanOf({ data }: Plane): number {
  let sum = 0;
  for (const v of data) sum += v;
  return sum / data.length;
}

/** Standard deviation. */
export function deviationOf(plane: Plane): number {
  const mean = meanOf(plane);
  let sum = 0;
  for (const v of plane.data) sum += (v - mean) ** 2;
  return Math.sqrt(sum / plane.data.length);
}

/** Pearson's correlation of two planes of one size; 0 where one of them is flat. */
export function correlation(a: Plane, b: Plane): number {
  const [meanA, meanB] = [meanOf(a), meanOf(b)];
  let [ab, aa, bb] = [0, 0, 0];
  for (let i = 0; i < a.data.length; i++) {
    const x = a.data[i] - meanA;
    const y = b.data[i] - meanB;
    ab += x * y;
    aa += x * x;
    bb += y * y;
  }
  const scale = Math.sqrt(aa * bb);
  return scale > 1e-9 * a.data.length ? ab / scale : 0;
}

/** A sample of a plane that continues at its other side. */
export function wrapped({ width, height, data }: Plane, x: number, y: number): number {
  return data[(((y % height) + height) % height) * width + (((x % width) + width) % width)];
}
