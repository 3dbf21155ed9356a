import type { Repeat } from "#core/length/repeat";
import type { Plane } from "#core/raster/plane";
import { createRaster, type Raster } from "#core/raster/raster";

/**
 * The normal map of a relief in millimetres that covers a repeat, +Y in 16 bits, the relief continuing at its other side:
 * n ∝ (−∂h/∂x, −∂h/∂y, 1) with y up, by central differences over the real size.
 */
export function normalFromHeight({ width: w, height: h, data: heights }: Plane, repeat: Repeat): Raster {
  const out = createRaster(w, h, 3, 16);
  const dx = (2 * repeat.width) / w;
  const dy = (2 * repeat.height) / h;
  for (let y = 0, i = 0; y < h; y++) {
    const above = (y === 0 ? h - 1 : y - 1) * w;
    const below = (y === h - 1 ? 0 : y + 1) * w;
    for (let x = 0; x < w; x++, i++) {
      const right = y * w + (x === w - 1 ? 0 : x + 1);
      const left = y * w + (x === 0 ? w - 1 : x - 1);
      const p = (heights[right] - heights[left]) / dx;
      const q = (heights[above + x] - heights[below + x]) / dy;
      const length = Math.hypot(p, q, 1);
      out.data[i * 3] = Math.round(((1 - p / length) / 2) * 65535);
      out.data[i * 3 + 1] = Math.round(((1 - q / length) / 2) * 65535);
      out.data[i * 3 + 2] = Math.round(((1 + 1 / length) / 2) * 65535);
    }
  }
  return out;
}
