import { CARD_PX } from "#core/card/layout";
import type { Held } from "#core/card/testing/hold";
import { createRaster, type Raster } from "#core/raster/raster";
import { linearToSrgb } from "#core/raster/srgb";

/** How the second renderer lights, and what its camera makes of it. */
export interface Light {
  /** Degrees: around, 0 from the right and 90 from above; and over the surface. */
  around: number;
  above: number;
  lamp: number;
  sky: number;
  exposure: number;
  tone: "none" | "filmic";
}

/** Whether what stands out hides the lamp from a pixel. @param lamp where it is; x right, y up */
function isShaded(height: Float32Array, px: number, py: number, lamp: readonly number[], highest: number) {
  const flat = Math.hypot(lamp[0], lamp[1]);
  const [dx, dy, rise] = [lamp[0] / flat, -lamp[1] / flat, lamp[2] / flat];
  let over = height[py * CARD_PX + px] + 0.5;
  for (let step = 1; ; step++) {
    over += rise;
    const [x, y] = [Math.round(px + dx * step), Math.round(py + dy * step)];
    if (over > highest || x < 0 || y < 0 || x >= CARD_PX || y >= CARD_PX) return false;
    if (height[y * CARD_PX + x] > over) return true;
  }
}

/**
 * Draws a held card by a model that has nothing in common with the application's: Lambert, Blinn and Phong normalised, a sky
 * that is lighter above, and occlusion on everything or on the sky alone. The eye is far, straight ahead.
 * @param side of the picture in pixels
 * @param isCast whether what stands out casts shadows
 */
export function drawOtherwise(
  held: Held,
  side: number,
  light: Light,
  { isHarsh, isCast }: { isHarsh: boolean; isCast: boolean },
): Raster {
  const out = createRaster(side, side, 3, 8);
  const [around, above] = [(light.around * Math.PI) / 180, (light.above * Math.PI) / 180];
  const lamp = [Math.cos(above) * Math.cos(around), Math.cos(above) * Math.sin(around), Math.sin(above)];
  const halfway = [lamp[0], lamp[1], lamp[2] + 1];
  const halfLength = Math.hypot(...halfway);
  const tone = (v: number) => (light.tone === "filmic" ? (1.25 * v) / (v + 0.3 + 0.02 / (v + 0.05)) : v);
  const taps = Math.max(1, Math.round(CARD_PX / side));
  const sum = [0, 0, 0];
  const casts = isCast ? held.height : null;
  const highest = casts?.reduce((most, one) => Math.max(most, one), -Infinity) ?? 0;
  for (let y = 0; y < side; y++)
    for (let x = 0; x < side; x++) {
      sum.fill(0);
      for (let ty = 0; ty < taps; ty++)
        for (let tx = 0; tx < taps; tx++) {
          const px = Math.min(CARD_PX - 1, Math.floor(((x + (tx + 0.5) / taps) / side) * CARD_PX));
          const py = Math.min(CARD_PX - 1, Math.floor(((y + (ty + 0.5) / taps) / side) * CARD_PX));
          const i = py * CARD_PX + px;
          const [nx, ny, nz] = [held.normal[i * 3], held.normal[i * 3 + 1], held.normal[i * 3 + 2]];
          const facing = Math.max(0, nx * lamp[0] + ny * lamp[1] + nz * lamp[2]);
          const gloss = Math.max(0, (nx * halfway[0] + ny * halfway[1] + nz * halfway[2]) / halfLength);
          const alpha = Math.max(0.02, held.roughness[i] ** 2);
          const power = Math.min(2000, 2 / (alpha * alpha) - 2);
          const lobe = ((power + 8) / 8) * gloss ** Math.max(0, power) * facing;
          const open = held.occlusion[i];
          const skyLight = light.sky * (0.7 + 0.3 * ny) * open;
          // What a mirror sees of the sky: above lighter than below.
          const mirrored = light.sky * (0.5 + 0.9 * ny * nz) * open;
          const isDark = casts !== null && isShaded(casts, px, py, lamp, highest);
          const lampLight = isDark ? 0 : light.lamp * (isHarsh ? open : 1);
          const metal = held.metal[i];
          for (let c = 0; c < 3; c++) {
            const color = held.color[i * 3 + c];
            const f0 = 0.04 + (color - 0.04) * metal;
            const shown =
              color * (1 - metal) * (skyLight + lampLight * facing) + f0 * (mirrored + lampLight * lobe);
            sum[c] += held.opacity[i] * shown + (1 - held.opacity[i]) * 0.22;
          }
        }
      for (let c = 0; c < 3; c++) {
        const v = tone((sum[c] / taps ** 2) * light.exposure);
        out.data[(y * side + x) * 3 + c] = Math.round(255 * linearToSrgb(Math.min(1, Math.max(0, v))));
      }
    }
  return out;
}
