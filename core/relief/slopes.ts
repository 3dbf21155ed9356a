import type { NormalDirection } from "#core/roles/roles";
import type { Plane } from "#core/raster/plane";
import { maxValue, type Raster } from "#core/raster/raster";

/** The slopes of a relief: rise for each pixel along x and down y. */
export interface Slopes {
  p: Plane;
  q: Plane;
}

/** The steepest slope that is believed; beyond it a normal map says "vertical" and no number. */
const STEEPEST = 20;

/** Slopes from a tangent-space normal map: p = −n_x/n_z along x; down y it is n_y/n_z under +Y and −n_y/n_z under −Y. */
export function slopesOf(normal: Raster, direction: NormalDirection): Slopes {
  const { width, height, channels, data } = normal;
  const scale = 2 / maxValue(normal);
  const sign = direction === "+Y" ? 1 : -1;
  const p = new Float32Array(width * height);
  const q = new Float32Array(width * height);
  for (let i = 0, o = 0; o < p.length; i += channels, o++) {
    const nz = Math.max(1 / STEEPEST, data[i + 2] * scale - 1);
    p[o] = -(data[i] * scale - 1) / nz;
    q[o] = (sign * (data[i + 1] * scale - 1)) / nz;
  }
  return { p: { width, height, data: p }, q: { width, height, data: q } };
}
