import { adjusterOf, colorAdjustment } from "#core/finish/colorAdjustment";
import type { Finish } from "#core/finish/finish";
import { hexToLinear, linearTable } from "#core/raster/srgb";
import type { Raster } from "#core/raster/raster";
import type { Rgb } from "#core/shade/rgb";

/** A round spot of a picture. */
export interface Spot {
  /** Its middle: 0..1 from the picture's left and from its top; what lies further goes on at the other side. */
  x: number;
  y: number;
  radiusPx: number;
}

/** The mean of a spot in linear light. @param adjust each pixel, where something is done to it */
export function meanOfSpot(
  { width, height, channels, bitDepth, data }: Raster,
  { x, y, radiusPx }: Spot,
  adjust: (color: Rgb) => Rgb = (color) => color,
): Rgb {
  const linear = linearTable(bitDepth);
  const within = (at: number, length: number) => ((at % length) + length) % length;
  const [left, top] = [Math.floor(x * width), Math.floor(y * height)];
  const second = channels < 3 ? 0 : 1;
  const sums = [0, 0, 0];
  let count = 0;
  for (let dy = -radiusPx; dy <= radiusPx; dy++)
    for (let dx = -radiusPx; dx <= radiusPx; dx++) {
      if (Math.hypot(dx, dy) > radiusPx) continue;
      const i = (within(top + dy, height) * width + within(left + dx, width)) * channels;
      const color = adjust([linear[data[i]], linear[data[i + second]], linear[data[i + 2 * second]]]);
      for (let c = 0; c < 3; c++) sums[c] += color[c];
      count++;
    }
  return [sums[0] / count, sums[1] / count, sums[2] / count];
}

/**
 * The colour of a material itself in a spot of it, under its finish and no light.
 * @param base its base color map; none for a plain colour
 * @returns nothing where it has no colour
 */
export function ownColor(finish: Finish, base: Raster | undefined, spot: Spot): Rgb | undefined {
  const adjustment = colorAdjustment(finish);
  const adjust: (color: Rgb) => Rgb = adjustment ? adjusterOf(adjustment) : (color) => color;
  if (base) return meanOfSpot(base, spot, adjust);
  return finish.color === undefined ? undefined : adjust(hexToLinear(finish.color));
}
