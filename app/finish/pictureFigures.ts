import { ciede2000, type Lab } from "#core/raster/ciede2000";
import { linearToLab } from "#core/raster/lab";
import { linearTable } from "#core/raster/srgb";

/** The mean colour of a picture, in linear light, as L*a*b*. @param pixels with four channels */
export function meanLab(pixels: Uint8ClampedArray): Lab {
  const toLinear = linearTable(8);
  let [r, g, b] = [0, 0, 0];
  for (let i = 0; i < pixels.length; i += 4) {
    r += toLinear[pixels[i]];
    g += toLinear[pixels[i + 1]];
    b += toLinear[pixels[i + 2]];
  }
  const count = Math.max(1, pixels.length / 4);
  return linearToLab(r / count, g / count, b / count);
}

/** Both means and how far they are from each other, in words. */
export function differenceWords(mine: Lab, other: Lab): string {
  const said = (lab: Lab) => lab.map((value) => value.toFixed(1).replace("-", "−")).join(" ");
  return `mean L*a*b* ${said(other)} against ${said(mine)}: ΔE2000 ${ciede2000(mine, other).toFixed(1)}`;
}
