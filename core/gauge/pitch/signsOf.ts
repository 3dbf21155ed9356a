import { levelled } from "#core/gauge/counting/levelled";
import { jointsOf } from "#core/gauge/joints";
import type { Plane } from "#core/raster/plane";

/** Joints are read from so many samples around: beyond its edges a picture goes on as its own mirror image. */
const MARGIN = 7;

/** So many signs has a picture; the first of them are the joints that run down. */
export const [SIGNS, HEADS] = [5, 0];

/**
 * What shows that a picture repeats: joints by the direction in which they run, and the lightness, all less what is usual around
 * and in their own spreads. The picture need not be seamless.
 */
export function signsOf(plane: Plane): Plane[] {
  const framed = withMargin(plane);
  return [...jointsOf(framed), framed].map((sign) => withoutMargin(levelled(sign), plane));
}

function withMargin({ width, height, data }: Plane): Plane {
  const [w, h] = [width + 2 * MARGIN, height + 2 * MARGIN];
  const out = new Float32Array(w * h);
  const inside = (at: number, side: number) => {
    const mirrored = at < 0 ? -1 - at : at >= side ? 2 * side - 1 - at : at;
    return Math.max(0, Math.min(side - 1, mirrored));
  };
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++)
      out[y * w + x] = data[inside(y - MARGIN, height) * width + inside(x - MARGIN, width)];
  return { width: w, height: h, data: out };
}

function withoutMargin(framed: Plane, { width, height }: Plane): Plane {
  const data = new Float32Array(width * height);
  for (let y = 0; y < height; y++) {
    const from = (y + MARGIN) * framed.width + MARGIN;
    data.set(framed.data.subarray(from, from + width), y * width);
  }
  return { width, height, data };
}
