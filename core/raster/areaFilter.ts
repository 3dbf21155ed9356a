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
 * @param writeRow gets each row's `width × channels` values, from the top down; the array is used again for the next
 */
export function areaFilter(
  source: FilterSource,
  width: number,
  height: number,
  writeRow: (y: number, values: Float32Array) => void,
): void {
  const [across, down] = [makeTaps(source.width, width), makeTaps(source.height, height)];
  const stride = width * source.channels;
  const narrow = narrower(source, across);
  // As many rows as lie under one output row, narrowed already; each source row has its place among them.
  const held = Array.from({ length: down.count }, () => new Float32Array(stride));
  const holds = new Int32Array(down.count).fill(-1);
  const values = new Float32Array(stride);
  const under: Float32Array[] = [];
  const weights: number[] = [];
  for (let y = 0; y < height; y++) {
    under.length = weights.length = 0;
    for (let k = 0; k < down.count; k++) {
      const weight = down.weights[y * down.count + k];
      if (weight === 0) continue;
      const at = place(down.first[y] + k, source.height, source.wrap);
      const slot = (down.first[y] + k + source.height * down.count) % down.count;
      if (holds[slot] !== at) {
        narrow(at, held[slot]);
        holds[slot] = at;
      }
      under.push(held[slot]);
      weights.push(weight);
    }
    weigh(under, weights, values);
    writeRow(y, values);
  }
}

/** The sum of rows by their weights; three at a time, since to store is dear. */
function weigh(rows: readonly Float32Array[], weights: readonly number[], into: Float32Array): void {
  const none = rows[0];
  for (let k = 0; k < rows.length; k += 3) {
    const a = rows[k];
    const b = rows[k + 1] ?? none;
    const c = rows[k + 2] ?? none;
    const wa = weights[k];
    const wb = weights[k + 1] ?? 0;
    const wc = weights[k + 2] ?? 0;
    if (k === 0) for (let i = 0; i < into.length; i++) into[i] = wa * a[i] + wb * b[i] + wc * c[i];
    else for (let i = 0; i < into.length; i++) into[i] += wa * a[i] + wb * b[i] + wc * c[i];
  }
}

/** Reads a row with what lies beyond its ends, so that no tap has to look where it is, and narrows it. */
function narrower({ width, channels, wrap, readRow }: FilterSource, taps: Taps) {
  const { first, count } = taps;
  const before = Math.max(0, -first[0]);
  const after = Math.max(0, first[first.length - 1] + count - width);
  const read = new Float32Array(width * channels);
  const row = new Float32Array((before + width + after) * channels);
  return (y: number, into: Float32Array): void => {
    readRow(y, read);
    row.set(read, before * channels);
    for (let i = 0; i < before; i++) copyPixel(place(i - before, width, wrap), i);
    for (let i = 0; i < after; i++) copyPixel(place(width + i, width, wrap), before + width + i);
    if (channels === 1) narrowOne(row, taps, before, into);
    else if (channels === 3) narrowThree(row, taps, before, into);
    else narrowAny(row, taps, before, channels, into);
  };

  function copyPixel(from: number, to: number): void {
    for (let c = 0; c < channels; c++) row[to * channels + c] = read[from * channels + c];
  }
}

function narrowOne(row: Float32Array, { first, count, weights }: Taps, before: number, into: Float32Array) {
  for (let x = 0, w = 0; x < first.length; x++) {
    let sum = 0;
    for (let at = first[x] + before, end = at + count; at < end; at++) sum += weights[w++] * row[at];
    into[x] = sum;
  }
}

function narrowThree(row: Float32Array, { first, count, weights }: Taps, before: number, into: Float32Array) {
  for (let x = 0, w = 0, o = 0; x < first.length; x++, o += 3) {
    let a = 0;
    let b = 0;
    let c = 0;
    for (let at = (first[x] + before) * 3, end = at + 3 * count; at < end; at += 3) {
      const weight = weights[w++];
      a += weight * row[at];
      b += weight * row[at + 1];
      c += weight * row[at + 2];
    }
    into[o] = a;
    into[o + 1] = b;
    into[o + 2] = c;
  }
}

function narrowAny(
  row: Float32Array,
  { first, count, weights }: Taps,
  before: number,
  channels: number,
  into: Float32Array,
) {
  for (let x = 0, o = 0; x < first.length; x++)
    for (let c = 0; c < channels; c++, o++) {
      let sum = 0;
      for (let k = 0, at = (first[x] + before) * channels + c; k < count; k++, at += channels)
        sum += weights[x * count + k] * row[at];
      into[o] = sum;
    }
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
