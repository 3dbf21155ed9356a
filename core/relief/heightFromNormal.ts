import type { Repeat } from "#core/length/repeat";
import type { NormalDirection } from "#core/roles/roles";
import { resample, type Plane } from "#core/raster/plane";
import type { Raster } from "#core/raster/raster";
import { resize } from "#core/raster/resize";
import { heightFromSlopes } from "#core/relief/heightFromSlopes";
import { slopesOf } from "#core/relief/slopes";
import { spreadHeight, type SpreadHeight } from "#core/relief/spreadHeight";
import { transformSize } from "#core/relief/transformSize";

/**
 * The relief whose normal map this is, for an image that repeats: its slopes are integrated over the real size (see
 * `heightFromSlopes`), so that amplitude and middle come out in millimetres. Its mean lies at 0.
 */
export function heightFromNormal(normal: Raster, direction: NormalDirection, repeat: Repeat): SpreadHeight {
  const grid = transformSize(normal);
  const { p, q } = slopesOf(normal, direction);
  const inMm = (plane: Plane, mmPerPixel: number): Plane => {
    const small = resample(plane, grid.width, grid.height);
    return { ...small, data: small.data.map((slope) => slope * mmPerPixel) };
  };
  const relief = heightFromSlopes(
    { p: inMm(p, repeat.width / grid.width), q: inMm(q, repeat.height / grid.height) },
    "spectral",
  );
  const spread = spreadHeight(relief);
  return {
    ...spread,
    raster: resize(spread.raster, normal.width, normal.height, { values: "data", wrap: true }),
  };
}
