import type { Rows } from "#core/raster/simd/rows";

/** Rows of values, channels interleaved, to be filtered to another size. */
export interface FilterSource {
  width: number;
  height: number;
  channels: number;
  /** Writes one row's `width × channels` values. */
  readRow(y: number, into: Float32Array): void;
  /** Whether it continues at its other side; else its edge goes on. */
  wrap: boolean;
}

interface Taps {
  /** For each output position the first input position, which may lie outside. */
  first: Int32Array;
  /** How many weights each output position has. */
  count: number;
  /** `count` for each output position. */
  weights: Float32Array;
}

/**
 * Filters to another size by a tent whose width follows the reduction, separable, so that reduction neither aliases nor
 * rings. Only the rows under one output row are held in floating point at a time.
 * @param rows where they are held
 * @param writeRow gets each row's `width × channels` values, from the top down; the array is used again for the next
 */
export function areaFilter(
  rows: Rows,
  source: FilterSource,
  width: number,
  height: number,
  writeRow: (y: number, values: Float32Array) => void,
): void {
  const { channels, wrap } = source;
  const across = makeTaps(source.width, width);
  const down = makeTaps(source.height, height);
  const before = Math.max(0, -across.first[0]);
  const after = Math.max(0, across.first[width - 1] + across.count - source.width);
  const margins = { before, after };
  const rowUnder = (height < source.height ? reduced : enlarged)(rows, source, down, margins);
  const narrow = narrower(rows, across, channels, before);
  const values = rows.floats(width * channels);
  for (let y = 0; y < height; y++) {
    const row = rowUnder(y);
    for (let i = 0; i < before; i++) copyPixel(row, before + place(i - before, source.width, wrap), i);
    for (let i = 0, to = before + source.width; i < after; i++, to++)
      copyPixel(row, before + place(source.width + i, source.width, wrap), to);
    narrow(row, values);
    writeRow(y, values);
  }

  function copyPixel(row: Float32Array, from: number, to: number): void {
    for (let c = 0; c < channels; c++) row[to * channels + c] = row[from * channels + c];
  }
}

interface Margins {
  before: number;
  after: number;
}

/** A row with its margins, and the part between them. */
function rowWithMargins(rows: Rows, { width, channels }: FilterSource, { before, after }: Margins) {
  const whole = rows.floats((before + width + after) * channels);
  return { whole, inner: whole.subarray(before * channels, (before + width) * channels) };
}

/** How many output rows one source row lies under, where there are fewer of them. */
const UNDER = 3;

/** The weighed sum of the source rows under each output row, asked for from the top down: each is read once and added to all. */
function reduced(rows: Rows, source: FilterSource, { first, count, weights }: Taps, margins: Margins) {
  const sums = Array.from({ length: UNDER }, () => ({
    ...rowWithMargins(rows, source, margins),
    begun: -1,
  }));
  const row = rows.floats(source.width * source.channels);
  let next = first[0];
  return (y: number): Float32Array => {
    for (const end = first[y] + count; next < end; next++) {
      source.readRow(place(next, source.height, source.wrap), row);
      for (let to = y; to < first.length && first[to] <= next; to++) {
        const weight = weights[to * count + next - first[to]];
        if (weight === 0) continue;
        const sum = sums[to % UNDER];
        rows.kernels.weigh(row.byteOffset, weight, sum.inner.byteOffset, row.length, sum.begun === to);
        sum.begun = to;
      }
    }
    return sums[y % UNDER].whole;
  };
}

/** The same where there are as many rows or more: the source rows under one are kept for those after it. */
function enlarged(rows: Rows, source: FilterSource, { first, count, weights }: Taps, margins: Margins) {
  const held = Array.from({ length: count }, () => ({
    row: rows.floats(source.width * source.channels),
    at: -1,
  }));
  const sum = rowWithMargins(rows, source, margins);
  return (y: number): Float32Array => {
    let isBegun = false;
    for (let k = 0; k < count; k++) {
      const weight = weights[y * count + k];
      if (weight === 0) continue;
      const at = place(first[y] + k, source.height, source.wrap);
      const slot = held[(first[y] + k + count) % count];
      if (slot.at !== at) source.readRow((slot.at = at), slot.row);
      rows.kernels.weigh(slot.row.byteOffset, weight, sum.inner.byteOffset, slot.row.length, isBegun);
      isBegun = true;
    }
    return sum.whole;
  };
}

/** Narrows a row, or widens it. */
function narrower(rows: Rows, taps: Taps, channels: number, before: number) {
  const width = taps.first.length;
  const first = rows.integers(width);
  first.set(taps.first.map((at) => at + before));
  // A vector holds four taps of one channel, or one of all.
  const count = channels === 1 ? Math.ceil(taps.count / 4) * 4 : taps.count;
  const weights = rows.floats(width * count);
  for (let x = 0; x < width; x++)
    weights.set(taps.weights.subarray(x * taps.count, (x + 1) * taps.count), x * count);
  return (row: Float32Array, into: Float32Array): void => {
    const [from, to, of] = [row.byteOffset, into.byteOffset, first.byteOffset];
    if (channels === 1) rows.kernels.narrow1(from, of, weights.byteOffset, count, to, width);
    else rows.kernels.narrow4(from, of, weights.byteOffset, count, to, width, channels);
  };
}

/** Tent of half-width max(1, reduction) input samples around each output sample's centre. */
function makeTaps(from: number, to: number): Taps {
  const ratio = from / to;
  const radius = Math.max(1, ratio);
  const count = Math.floor(2 * radius) + 1;
  const first = new Int32Array(to);
  const weights = new Float32Array(to * count);
  for (let i = 0; i < to; i++) {
    const centre = (i + 0.5) * ratio - 0.5;
    const start = Math.ceil(centre - radius);
    let sum = 0;
    const row = Array.from({ length: count }, (_, k) =>
      Math.max(0, 1 - Math.abs(start + k - centre) / radius),
    );
    for (const weight of row) sum += weight;
    first[i] = start;
    for (let k = 0; k < count; k++) weights[i * count + k] = row[k] / sum;
  }
  return { first, count, weights };
}

/** The input position for a tap that may lie outside. */
const place = (at: number, size: number, wrap: boolean) =>
  wrap ? ((at % size) + size) % size : Math.min(size - 1, Math.max(0, at));
