import { areaFilter } from "#core/raster/areaFilter";
import { createRaster, maxValue, type Raster } from "#core/raster/raster";
import { openRows, type Rows } from "#core/raster/simd/rows";
import { linearTable, srgbCodes } from "#core/raster/srgb";

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
  const rows = openRows();
  const source = {
    width: raster.width,
    height: raster.height,
    channels,
    readRow: rowReader(rows, raster, options.values),
    wrap: options.wrap,
  };
  areaFilter(rows, source, width, height, rowWriter(rows, out, options.values));
  return out;
}

/** How many of the channels are colours, if any are: grey is one too, a second or fourth channel is none. */
const colorsOf = ({ channels }: Raster, values: ResizeOptions["values"]) =>
  values !== "srgb" ? 0 : channels > 2 ? 3 : 1;

/** Rows of an image in the values that are averaged: linear light, vectors, or data as 0..1. */
function rowReader(rows: Rows, raster: Raster, values: ResizeOptions["values"]) {
  const { data, width, channels, bitDepth } = raster;
  const stride = width * channels;
  const colors = colorsOf(raster, values);
  const wide = bitDepth === 16;
  const codes = rows.codes(bitDepth, stride);
  const table = kept(rows, colors > 0 ? linearTable(bitDepth) : plainTable(bitDepth, values));
  const [from, by] = [codes.byteOffset, table.byteOffset];
  const { look8, look16, lookMixed } = rows.kernels;
  const look = wide ? look16 : look8;
  const other = colors > 0 && colors < channels ? kept(rows, plainTable(bitDepth, values)) : undefined;
  return (y: number, into: Float32Array): void => {
    codes.set(data.subarray(y * stride, (y + 1) * stride));
    if (other) lookMixed(from, wide, by, other.byteOffset, colors, channels, into.byteOffset, width);
    else look(from, by, into.byteOffset, stride);
  };
}

function kept(rows: Rows, table: Float32Array): Float32Array {
  const room = rows.floats(table.length);
  room.set(table);
  return room;
}

/** What each code is as data, 0..1, or as a part of a vector, −1..1. */
function plainTable(bitDepth: 8 | 16, values: ResizeOptions["values"]): Float32Array {
  const max = maxValue({ bitDepth });
  return Float32Array.from({ length: max + 1 }, (_, code) =>
    values === "normal" ? (code / max) * 2 - 1 : code / max,
  );
}

/** The other way round, rounded to the nearest code. */
function rowWriter(rows: Rows, into: Raster, kind: ResizeOptions["values"]) {
  const { data, width, channels, bitDepth } = into;
  const stride = width * channels;
  const codes = rows.codes(bitDepth, stride);
  const encode = encoder();
  return (y: number, values: Float32Array): void => {
    encode(values.byteOffset, codes.byteOffset);
    data.set(codes, y * stride);
  };

  function encoder(): (values: number, codes: number) => void {
    const { nearest, vectors, encoded } = rows.kernels;
    const most = maxValue(into);
    if (kind === "normal" && channels >= 3)
      return (values, codes) => vectors(values, channels, most, codes, width);
    if (kind !== "srgb") {
      const half = kind === "normal" ? 0.5 : 1;
      return (values, codes) => nearest(values, half, 1 - half, most, codes, stride);
    }
    const known = srgbCodes(bitDepth);
    const begin = rows.codes(16, known.begin.length);
    begin.set(known.begin);
    const limits = rows.doubles(known.limits.length);
    limits.set(known.limits);
    const [start, next, steps] = [begin.byteOffset, limits.byteOffset, begin.length];
    const colors = colorsOf(into, kind);
    return (values, codes) => encoded(values, colors, channels, start, next, steps, most, codes, width);
  }
}
