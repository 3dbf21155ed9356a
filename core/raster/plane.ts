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
  const columns = sharesOf(plane.width, width);
  // Row by row, so that memory is read in the order in which it lies.
  for (let y = 0; y < plane.height; y++) {
    const [from, to] = [y * plane.width, y * width];
    for (let k = 0; k < columns.from.length; k++)
      across[to + columns.to[k]] += columns.weight[k] * plane.data[from + columns.from[k]];
  }
  const data = new Float32Array(width * height);
  const rows = sharesOf(plane.height, height);
  for (let k = 0; k < rows.from.length; k++) {
    const [from, to, weight] = [rows.from[k] * width, rows.to[k] * width, rows.weight[k]];
    for (let x = 0; x < width; x++) data[to + x] += weight * across[from + x];
  }
  return { width, height, data };
}

/** So many pixels along each side of a sample are enough for its mean. */
const ENOUGH = 5;

/**
 * An image as one number a pixel, reduced to a size by averaging the area under each sample, or an even grid in it where it is
 * large; without a plane of its full size.
 * @param value of the pixel whose first sample has this offset
 */
export function reducedPlane(
  raster: Raster,
  value: (offset: number) => number,
  width: number,
  height: number,
): Plane {
  const step = Math.max(1, Math.floor(Math.min(raster.width / width, raster.height / height) / ENOUGH));
  const [across, down] = [Math.ceil(raster.width / step), Math.ceil(raster.height / step)];
  const [columns, rows] = [firstShares(across, width), firstShares(down, height)];
  const data = new Float32Array(width * height);
  const line = new Float32Array(width + 1);
  for (let y = 0; y < down; y++) {
    line.fill(0);
    const row = y * step * raster.width * raster.channels;
    for (let x = 0; x < across; x++) {
      const v = value(row + x * step * raster.channels);
      const [to, share] = [columns.to[x], columns.share[x]];
      line[to] += v * share;
      line[to + 1] += v * (1 - share);
    }
    const [to, share] = [rows.to[y] * width, rows.share[y]];
    for (let x = 0; x < width; x++) data[to + x] += line[x] * share;
    if (share < 1) for (let x = 0; x < width; x++) data[to + width + x] += line[x] * (1 - share);
  }
  const area = (across / width) * (down / height);
  for (let i = 0; i < data.length; i++) data[i] /= area;
  return { width, height, data };
}

/** The first new sample that each old one goes into, and how much of it; the rest goes into the next. */
function firstShares(length: number, newLength: number): { to: Int32Array; share: Float64Array } {
  const [to, share] = [new Int32Array(length), new Float64Array(length)];
  for (let from = 0; from < length; from++) {
    to[from] = Math.min(newLength - 1, Math.floor((from * newLength) / length));
    const end = ((to[from] + 1) * length) / newLength;
    share[from] = to[from] === newLength - 1 ? 1 : Math.min(1, end - from);
  }
  return { to, share };
}

/** Rows as columns and columns as rows. */
export function transposed({ width, height, data }: Plane): Plane {
  const out = new Float32Array(data.length);
  for (let y = 0, i = 0; y < height; y++) for (let x = 0; x < width; x++, i++) out[x * height + y] = data[i];
  return { width: height, height: width, data: out };
}

interface Shares {
  from: Int32Array;
  to: Int32Array;
  weight: Float64Array;
}

/** How much of each old sample of a line goes into which new one. */
function sharesOf(length: number, newLength: number): Shares {
  const shares: [from: number, to: number, weight: number][] = [];
  const ratio = length / newLength;
  for (let to = 0; to < newLength; to++) {
    const start = to * ratio;
    const end = Math.max(start + 1e-6, (to + 1) * ratio);
    for (let from = Math.floor(start); from < Math.min(length, Math.ceil(end)); from++) {
      const weight = (Math.min(end, from + 1) - Math.max(start, from)) / (end - start);
      if (weight > 0) shares.push([from, to, weight]);
    }
  }
  return {
    from: Int32Array.from(shares, ([from]) => from),
    to: Int32Array.from(shares, ([, to]) => to),
    weight: Float64Array.from(shares, ([, , weight]) => weight),
  };
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
