import { periodicFbm, smoothstep } from "#core/pattern/noise";
import type { PatternSize } from "#core/pattern/patternSet";
import { linear, mix, scaled } from "#core/pattern/patternSet";
import { createRaster, type Raster } from "#core/raster/raster";
import { linearToSrgb } from "#core/raster/srgb";

export interface LeafSheet {
  base_color: Raster;
  geometry_opacity: Raster;
  subsurface_color: Raster;
}

const ROWS = 2;
const COLUMNS = 3;

/** A sheet of leaves that are cut out: their colour, where they are, and the light that they let through. */
export function leafSheet({ widthPx, heightPx }: PatternSize, seed: number): LeafSheet {
  const color = createRaster(widthPx, heightPx, 3, 8);
  const opacity = createRaster(widthPx, heightPx, 1, 8);
  const through = createRaster(widthPx, heightPx, 3, 8);
  const [green, dark, vein, lit] = ["#4f7a33", "#35591f", "#9db56c", "#a8c94a"].map(linear);
  const put = (raster: Raster, i: number, value: [number, number, number]) => {
    for (let c = 0; c < 3; c++)
      raster.data[i * 3 + c] = Math.round(linearToSrgb(Math.min(1, Math.max(0, value[c]))) * 255);
  };
  for (let y = 0, i = 0; y < heightPx; y++)
    for (let x = 0; x < widthPx; x++, i++) {
      const [u, v] = [(x + 0.5) / widthPx, (y + 0.5) / heightPx];
      const [column, row] = [Math.floor(u * COLUMNS), Math.floor(v * ROWS)];
      const which = row * COLUMNS + column;
      // Within its field: across from its midrib, and along it from the stalk at 0 to the tip at 1.
      const across = 2 * (u * COLUMNS - column) - 1 + 0.06 * periodicFbm(v, 0.5, 4, 1, 2, seed + which);
      const along = 1.06 - 1.12 * (v * ROWS - row);
      const body = Math.sin(Math.PI * Math.min(1, Math.max(0, along)) ** 0.8);
      const edge = 0.62 * body * (1 + 0.05 * Math.sin(along * 90)) - Math.abs(across);
      const stalk = along < 0.12 && along > 0 ? 0.025 - Math.abs(across) : -1;
      const rib = smoothstep(0.03, 0.008, Math.abs(across));
      const side = Math.abs(Math.sin((along + 0.55 * Math.abs(across)) * 34));
      const veins = Math.max(rib, 0.6 * smoothstep(0.16, 0.03, side));
      const cloud = periodicFbm(u, v, 14, 14, 4, seed);
      const shade = mix(green, dark, smoothstep(-0.5, 0.6, cloud));
      put(color, i, mix(shade, vein, 0.7 * veins));
      put(through, i, scaled(lit, 0.75 + 0.2 * cloud - 0.35 * veins));
      opacity.data[i] = Math.max(edge, stalk) > 0 ? 255 : 0;
    }
  return { base_color: color, geometry_opacity: opacity, subsurface_color: through };
}
