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
  /** For each output position: the first input position (may lie outside), and the weights from there. */
  first: Int32Array;
  weights: Float32Array[];
}

/**
 * Filters to another size by a tent whose width follows the reduction, separable, so that reduction neither aliases nor
 * rings. Only the rows under one output row are held in floating point at a time.
 * @returns `width × height × channels` values
 */
export function areaFilter(source: FilterSource, width: number, height: number): Float32Array {
  const { channels } = source;
  const [across, down] = [makeTaps(source.width, width), makeTaps(source.height, height)];
  const stride = width * channels;
  const out = new Float32Array(stride * height);
  const read = new Float32Array(source.width * channels);
  // Rows that are narrowed already, by where they lie in the source; those of the last output row are used again.
  let held = new Map<number, Float32Array>();
  for (let y = 0; y < height; y++) {
    const kept = new Map<number, Float32Array>();
    const weights = down.weights[y];
    for (let k = 0; k < weights.length; k++) {
      const at = place(down.first[y] + k, source.height, source.wrap);
      let row = held.get(at) ?? kept.get(at);
      if (!row) {
        source.readRow(at, read);
        row = narrowed(read, source, across);
      }
      kept.set(at, row);
      const [o, w] = [y * stride, weights[k]];
      for (let i = 0; i < stride; i++) out[o + i] += w * row[i];
    }
    held = kept;
  }
  return out;
}

function narrowed(
  row: Float32Array,
  { width, channels, wrap }: FilterSource,
  { first, weights }: Taps,
): Float32Array {
  const out = new Float32Array(first.length * channels);
  for (let x = 0, o = 0; x < first.length; x++, o += channels) {
    const shares = weights[x];
    for (let k = 0; k < shares.length; k++) {
      const [from, w] = [place(first[x] + k, width, wrap) * channels, shares[k]];
      for (let c = 0; c < channels; c++) out[o + c] += w * row[from + c];
    }
  }
  return out;
}

/** Tent of half-width max(1, reduction) input samples around each output sample's centre. */
function makeTaps(from: number, to: number): Taps {
  const ratio = from / to;
  const radius = Math.max(1, ratio);
  const first = new Int32Array(to);
  const weights: Float32Array[] = [];
  for (let i = 0; i < to; i++) {
    const centre = (i + 0.5) * ratio - 0.5;
    const start = Math.ceil(centre - radius);
    const row: number[] = [];
    for (let at = start; at <= centre + radius; at++)
      row.push(Math.max(0, 1 - Math.abs(at - centre) / radius));
    const sum = row.reduce((a, b) => a + b, 0);
    first[i] = start;
    weights.push(Float32Array.from(row, (w) => w / sum));
  }
  return { first, weights };
}

/** The input position for a tap that may lie outside. */
const place = (at: number, size: number, wrap: boolean) =>
  wrap ? ((at % size) + size) % size : Math.min(size - 1, Math.max(0, at));
