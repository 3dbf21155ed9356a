import { resample, type Plane } from "#core/raster/plane";

/** Which way the grain of a picture runs. */
export interface Grain {
  /** Degrees from level, counter-clockwise as one sees it: 0 across, 90 up; 0 ≤ angle < 180. */
  angle: number;
  /** 0..1: how much of what changes does so across this direction. */
  clear: number;
}

/** Grain is looked for in a picture of at most so many pixels: finer than that is noise. */
const SIDE = 512;
/** From here on there is a grain to speak of. */
export const CLEAR_GRAIN = 0.15;

/**
 * The direction in which a repeating picture changes least, from its structure tensor (Bigün and Granlund 1987): the
 * mean of the gradient's products. Joints count little, since each place's gradient counts by its length only once.
 */
export function grainOf(plane: Plane): Grain {
  const scale = Math.min(1, SIDE / Math.max(plane.width, plane.height));
  const [width, height] = [plane.width, plane.height].map((side) => Math.max(1, Math.round(side * scale)));
  const { data } = resample(plane, width, height);
  let [xx, yy, xy] = [0, 0, 0];
  for (let y = 0; y < height; y++) {
    const [above, row, below] = [(y + height - 1) % height, y, (y + 1) % height].map((at) => at * width);
    for (let x = 0; x < width; x++) {
      const [left, right] = [(x + width - 1) % width, (x + 1) % width];
      const gx = data[row + right] - data[row + left];
      const gy = data[below + x] - data[above + x];
      // By length, not by its square: a few strong joints must not outshout the wood between them.
      const length = Math.hypot(gx, gy);
      if (length === 0) continue;
      xx += (gx * gx) / length;
      yy += (gy * gy) / length;
      xy += (gx * gy) / length;
    }
  }
  const energy = xx + yy;
  if (energy === 0) return { angle: 0, clear: 0 };
  // The gradient's main direction; the grain runs at a right angle to it, and y goes down in the picture.
  const across = Math.atan2(2 * xy, xx - yy) / 2;
  const angle = (((90 - (across * 180) / Math.PI) % 180) + 180) % 180;
  return { angle: angle > 179.95 ? 0 : angle, clear: Math.hypot(xx - yy, 2 * xy) / energy };
}
