import { maxValue, type Raster } from "#core/raster/raster";

/** Each value of linear data by what becomes of it, 0..1 to 0..1, in the image itself; all channels alike. */
export function byCode(raster: Raster, change: (value: number) => number): Raster {
  const most = maxValue(raster);
  const codes = Uint16Array.from({ length: most + 1 }, (_, code) =>
    Math.round(Math.min(1, Math.max(0, change(code / most))) * most),
  );
  const { data } = raster;
  const { length } = data;
  for (let i = 0; i < length; i++) data[i] = codes[data[i]];
  return raster;
}
