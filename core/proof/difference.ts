import { ciede2000, type Lab } from "#core/raster/ciede2000";
import { linearToLab } from "#core/raster/lab";
import { createRaster, type Raster } from "#core/raster/raster";
import { linearTable } from "#core/raster/srgb";

/** How far two pictures of one scene are apart, in ΔE2000. */
export interface Difference {
  mean: number;
  /** What 95 of 100 pixels stay below. */
  p95: number;
  most: number;
  /** Where that is, as shares from the left and from the top. */
  at: { x: number; y: number };
  /** Paper where they agree, red where they are `RED_FROM` apart or more. */
  picture: Raster;
}

const RED_FROM = 10;
const PAPER = [244, 242, 236];
const RED = [150, 40, 30];

/** @param a, b 8 bits, three channels, the same size */
export function differenceOf(a: Raster, b: Raster): Difference {
  const { width, height } = a;
  if (b.width !== width || b.height !== height)
    throw new RangeError(
      `Pictures of ${width} × ${height} and ${b.width} × ${b.height} are not of one scene.`,
    );
  const toLinear = linearTable(8);
  const lab = ({ data }: Raster, at: number): Lab =>
    linearToLab(toLinear[data[at]], toLinear[data[at + 1]], toLinear[data[at + 2]]);
  const picture = createRaster(width, height, 3, 8);
  const all = new Float64Array(width * height);
  let [sum, most, worst] = [0, 0, 0];
  for (let pixel = 0; pixel < all.length; pixel++) {
    const at = pixel * 3;
    const same =
      a.data[at] === b.data[at] && a.data[at + 1] === b.data[at + 1] && a.data[at + 2] === b.data[at + 2];
    const apart = same ? 0 : ciede2000(lab(a, at), lab(b, at));
    all[pixel] = apart;
    sum += apart;
    if (apart > most) [most, worst] = [apart, pixel];
    const share = Math.min(1, apart / RED_FROM);
    for (let c = 0; c < 3; c++) picture.data[at + c] = Math.round(PAPER[c] + (RED[c] - PAPER[c]) * share);
  }
  all.sort();
  return {
    mean: sum / all.length,
    p95: all[Math.floor(all.length * 0.95)],
    most,
    at: { x: ((worst % width) + 0.5) / width, y: (Math.floor(worst / width) + 0.5) / height },
    picture,
  };
}
