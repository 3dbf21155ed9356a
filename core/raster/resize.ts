import { createRaster, maxValue, type Raster } from "#core/raster/raster";
import { linearTable, linearToSrgb } from "#core/raster/srgb";

export interface ResizeOptions {
  /** "srgb": filtered in linear light (a fourth channel stays linear); "data": as it is; "normal": as vectors, renormalised. */
  values: "srgb" | "data" | "normal";
  /** Whether the image continues at its other side, as one that repeats does. */
  wrap: boolean;
}

interface Taps {
  /** For each output position: the first input position (may lie outside), and the weights from there. */
  first: Int32Array;
  weights: Float32Array[];
}

/**
 * Area-aware resize: a tent whose width follows the reduction, separable, in floating point, so that reduction
 * neither aliases nor rings. Values keep their bit depth.
 */
export function resize(raster: Raster, width: number, height: number, options: ResizeOptions): Raster {
  if (width === raster.width && height === raster.height) return { ...raster, data: raster.data.slice() };
  const { channels } = raster;
  const source = toWorkingValues(raster, options.values);
  const across = filterRows(
    source,
    raster.width,
    raster.height,
    channels,
    makeTaps(raster.width, width),
    options.wrap,
  );
  const both = filterColumns(
    across,
    width,
    raster.height,
    channels,
    makeTaps(raster.height, height),
    options.wrap,
  );
  return fromWorkingValues(both, createRaster(width, height, channels, raster.bitDepth), options.values);
}

function toWorkingValues(raster: Raster, values: ResizeOptions["values"]): Float32Array {
  const { data, channels } = raster;
  const max = maxValue(raster);
  const out = new Float32Array(data.length);
  if (values === "normal") for (let i = 0; i < data.length; i++) out[i] = (data[i] / max) * 2 - 1;
  else if (values === "srgb") {
    const table = linearTable(raster.bitDepth);
    const colors = Math.min(channels, 3);
    for (let i = 0; i < data.length; i += channels)
      for (let c = 0; c < channels; c++)
        out[i + c] = c < colors && channels > 2 ? table[data[i + c]] : data[i + c] / max;
    if (channels < 3) for (let i = 0; i < data.length; i += channels) out[i] = table[data[i]];
  } else for (let i = 0; i < data.length; i++) out[i] = data[i] / max;
  return out;
}

function fromWorkingValues(values: Float32Array, into: Raster, kind: ResizeOptions["values"]): Raster {
  const { data, channels } = into;
  const max = maxValue(into);
  if (kind === "normal" && channels >= 3)
    for (let i = 0; i < values.length; i += channels) {
      const length = Math.hypot(values[i], values[i + 1], values[i + 2]) || 1;
      for (let c = 0; c < channels; c++) {
        const v = c < 3 ? values[i + c] / length : values[i + c];
        data[i + c] = Math.round(((v + 1) / 2) * max);
      }
    }
  else
    for (let i = 0; i < values.length; i++) {
      const isColor = kind === "srgb" && (channels < 3 ? i % channels === 0 : i % channels < 3);
      const v = isColor ? linearToSrgb(values[i]) : values[i];
      data[i] = Math.round(Math.min(1, Math.max(0, v)) * max);
    }
  return into;
}

/** Tent filter of half-width max(1, reduction) input pixels around each output pixel's centre. */
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

function filterRows(
  source: Float32Array,
  width: number,
  height: number,
  channels: number,
  taps: Taps,
  wrap: boolean,
) {
  const outWidth = taps.first.length;
  const out = new Float32Array(outWidth * height * channels);
  for (let x = 0; x < outWidth; x++) {
    const weights = taps.weights[x];
    for (let k = 0; k < weights.length; k++) {
      const from = place(taps.first[x] + k, width, wrap) * channels;
      const w = weights[k];
      for (let y = 0; y < height; y++) {
        const o = (y * outWidth + x) * channels;
        const s = y * width * channels + from;
        for (let c = 0; c < channels; c++) out[o + c] += w * source[s + c];
      }
    }
  }
  return out;
}

function filterColumns(
  source: Float32Array,
  width: number,
  height: number,
  channels: number,
  taps: Taps,
  wrap: boolean,
) {
  const outHeight = taps.first.length;
  const stride = width * channels;
  const out = new Float32Array(outHeight * stride);
  for (let y = 0; y < outHeight; y++) {
    const weights = taps.weights[y];
    const o = y * stride;
    for (let k = 0; k < weights.length; k++) {
      const s = place(taps.first[y] + k, height, wrap) * stride;
      const w = weights[k];
      for (let i = 0; i < stride; i++) out[o + i] += w * source[s + i];
    }
  }
  return out;
}
