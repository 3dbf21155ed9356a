import type { Plane } from "#core/raster/plane";

/**
 * The minimum-error boundary cut through an overlap (Efros and Freeman 2001): for each position along the edge, the line from
 * which on the near edge is taken in place of the far one. Neighbouring positions differ by one line at most, also where
 * the end meets the beginning, so that the cut itself repeats.
 * @param error what it costs to change over at a line (x) and a position along the edge (y), width × height
 */
export function cutSeam({ width, height, data }: Plane): Int32Array {
  const free = cutFrom(data, width, height);
  const gap = Math.abs(free[0] - free[height - 1]);
  if (gap <= 1) return free;
  // Once more with the beginning fixed where the free cut runs in the middle, where it is settled best.
  return cutFrom(data, width, height, free[Math.floor(height / 2)]);
}

function cutFrom(error: Float32Array, width: number, height: number, fixed?: number): Int32Array {
  const cost = new Float64Array(width * height);
  const from = new Int32Array(width * height);
  for (let x = 0; x < width; x++) cost[x] = fixed === undefined || x === fixed ? error[x] : Infinity;
  for (let y = 1; y < height; y++)
    for (let x = 0; x < width; x++) {
      let best = x;
      const above = (y - 1) * width;
      if (x > 0 && cost[above + x - 1] < cost[above + best]) best = x - 1;
      if (x < width - 1 && cost[above + x + 1] < cost[above + best]) best = x + 1;
      cost[y * width + x] = cost[above + best] + error[y * width + x];
      from[y * width + x] = best;
    }
  const last = (height - 1) * width;
  let x = 0;
  for (let at = 1; at < width; at++) {
    const allowed = fixed === undefined || Math.abs(at - fixed) <= 1;
    if (allowed && (cost[last + at] < cost[last + x] || (fixed !== undefined && Math.abs(x - fixed) > 1)))
      x = at;
  }
  const cut = new Int32Array(height);
  for (let y = height - 1; y >= 0; y--) {
    cut[y] = x;
    x = from[y * width + x];
  }
  return cut;
}
