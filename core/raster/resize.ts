import { areaFilter } from "#core/raster/areaFilter";
import { createRaster, maxValue, type Raster } from "#core/raster/raster";
import { linearTable, linearToSrgb } from "#core/raster/srgb";

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
  const readRow = rowReader(raster, options.values);
  const { channels, bitDepth } = raster;
  const values = areaFilter(
    { width: raster.width, height: raster.height, channels, readRow, wrap: options.wrap },
    width,
    height,
  );
  return fromWorkingValues(values, createRaster(width, height, channels, bitDepth), options.values);
}

/** Rows of an image in the values that are averaged: linear light, vectors, or data as 0..1. */
function rowReader(raster: Raster, values: ResizeOptions["values"]) {
  const { data, width, channels } = raster;
  const stride = width * channels;
  const max = maxValue(raster);
  if (values !== "srgb")
    return (y: number, into: Float32Array) => {
      for (let i = 0, s = y * stride; i < stride; i++, s++)
        into[i] = values === "normal" ? (data[s] / max) * 2 - 1 : data[s] / max;
    };
  const table = linearTable(raster.bitDepth);
  // Grey is a colour too; a second or fourth channel is none.
  const colors = channels > 2 ? 3 : 1;
  return (y: number, into: Float32Array) => {
    for (let i = 0, s = y * stride; i < stride; i += channels)
      for (let c = 0; c < channels; c++, s++) into[i + c] = c < colors ? table[data[s]] : data[s] / max;
  };
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
