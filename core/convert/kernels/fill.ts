import { createRaster, maxValue, type Raster } from "#core/raster/raster";

/** An image of one colour or value. @param values of its channels, 0..1, as they are stored: a colour is encoded as sRGB */
export function fill(width: number, height: number, values: number[], bitDepth: 8 | 16): Raster {
  const out = createRaster(width, height, values.length as Raster["channels"], bitDepth);
  const codes = values.map((value) => Math.round(value * maxValue(out)));
  for (let i = 0; i < out.data.length; i += codes.length) out.data.set(codes, i);
  return out;
}
