import { adjusterOf, colorAdjustment } from "#core/finish/colorAdjustment";
import type { Finish } from "#core/finish/finish";
import { hexToLinear, linearTable } from "#core/raster/srgb";

/** So many pixels settle a mean within a tenth of a point. */
const SAMPLES = 8192;

/**
 * Light reflectance value: Y × 100 of the mean colour under D65, for the 2° observer, after the finish.
 * @param pixels of the base colour, sRGB with four channels; undefined for a plain colour
 * @returns undefined where there is no colour, and for what light goes through
 */
export function lightReflectance(finish: Finish, pixels?: ArrayLike<number>): number | undefined {
  if ((finish.transmissionWeight ?? 0) >= 0.5) return undefined;
  const adjustment = colorAdjustment(finish);
  const adjust = adjustment ? adjusterOf(adjustment) : undefined;
  const luminance = (color: [number, number, number]) => {
    const [r, g, b] = adjust ? adjust(color) : color;
    return 0.2126 * r + 0.7152 * g + 0.0722 * b;
  };
  if (!pixels) return finish.color === undefined ? undefined : 100 * luminance(hexToLinear(finish.color));
  const toLinear = linearTable(8);
  const count = pixels.length / 4;
  const step = Math.max(1, Math.floor(count / SAMPLES));
  let [sum, taken] = [0, 0];
  // One after the other by a step that is no divisor of a row: columns do not fall together.
  for (let pixel = 0; pixel < count; pixel += step | 1, taken++)
    sum += luminance([
      toLinear[pixels[pixel * 4]],
      toLinear[pixels[pixel * 4 + 1]],
      toLinear[pixels[pixel * 4 + 2]],
    ]);
  return taken === 0 ? undefined : (100 * sum) / taken;
}
