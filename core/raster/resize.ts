import { areaFilter } from "#core/raster/areaFilter";
import { createRaster, maxValue, type Raster } from "#core/raster/raster";
import { linearTable, srgbEncoder } from "#core/raster/srgb";

export interface ResizeOptions {
  /** "srgb": filtered in linear light (a fourth channel stays linear); "data": as it is; "normal": as vectors, renormalised. */
  values: "srgb" | "data" | "normal";
  /** Whether the image continues at its other side, as one that repeats does. */
  wrap: boolean;
}

/**
 * Area-aware resize (`areaFilter`), in floating point. Values keep their bit depth.
 */
export function resize(raster: Raster, width: number, height: number, options: ResizeOptions): Raster {
  if (width === raster.width && height === raster.height) return { ...raster, data: raster.data.slice() };
  const { channels } = raster;
  const out = createRaster(width, height, channels, raster.bitDepth);
  areaFilter(
    {
      width: raster.width,
      height: raster.height,
      channels,
      readRow: rowReader(raster, options.values),
      wrap: options.wrap,
    },
    width,
    height,
    rowWriter(out, options.values),
  );
  return out;
}

/** Rows of an image in the values that are averaged: linear light, vectors, or data as 0..1. */
function rowReader(raster: Raster, values: ResizeOptions["values"]) {
  const { data, width, channels } = raster;
  const stride = width * channels;
  // Grey is a colour too; a second or fourth channel is none.
  const colors = values !== "srgb" ? 0 : channels > 2 ? 3 : 1;
  const plain = plainTable(raster.bitDepth, values);
  if (colors === 0 || colors === channels) {
    const table = colors === 0 ? plain : linearTable(raster.bitDepth);
    return (y: number, into: Float32Array) => {
      for (let i = 0, s = y * stride; i < stride; i++, s++) into[i] = table[data[s]];
    };
  }
  const table = linearTable(raster.bitDepth);
  return (y: number, into: Float32Array) => {
    for (let i = 0, s = y * stride; i < stride; i += channels)
      for (let c = 0; c < channels; c++, s++) into[i + c] = c < colors ? table[data[s]] : plain[data[s]];
  };
}

/** What each code is as data, 0..1, or as a part of a vector, −1..1. */
function plainTable(bitDepth: 8 | 16, values: ResizeOptions["values"]): Float32Array {
  const max = bitDepth === 16 ? 65535 : 255;
  return Float32Array.from({ length: max + 1 }, (_, code) =>
    values === "normal" ? (code / max) * 2 - 1 : code / max,
  );
}

/** The other way round, rounded to the nearest code. */
function rowWriter(into: Raster, kind: ResizeOptions["values"]) {
  const { data, width, channels } = into;
  const stride = width * channels;
  const max = maxValue(into);
  const nearest = (v: number) => (v > 0 ? (v < 1 ? (v * max + 0.5) | 0 : max) : 0);
  if (kind === "normal" && channels >= 3)
    return (y: number, values: Float32Array) => {
      for (let i = 0, o = y * stride; i < stride; i += channels, o += channels) {
        const p = values[i];
        const q = values[i + 1];
        const r = values[i + 2];
        const length = Math.sqrt(p * p + q * q + r * r) || 1;
        data[o] = nearest((p / length + 1) / 2);
        data[o + 1] = nearest((q / length + 1) / 2);
        data[o + 2] = nearest((r / length + 1) / 2);
        for (let c = 3; c < channels; c++) data[o + c] = nearest((values[i + c] + 1) / 2);
      }
    };
  if (kind !== "srgb")
    return (y: number, values: Float32Array) => {
      const scale = kind === "normal" ? 0.5 : 1;
      const shift = kind === "normal" ? 0.5 : 0;
      for (let i = 0, o = y * stride; i < stride; i++, o++) data[o] = nearest(values[i] * scale + shift);
    };
  const encode = srgbEncoder(into.bitDepth);
  const colors = channels > 2 ? 3 : 1;
  return (y: number, values: Float32Array) => {
    for (let i = 0, o = y * stride; i < stride; i += channels, o += channels)
      for (let c = 0; c < channels; c++)
        data[o + c] = c < colors ? encode(values[i + c]) : nearest(values[i + c]);
  };
}
