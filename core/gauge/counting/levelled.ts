import type { Plane } from "#core/raster/plane";

/** Half the side of the square whose mean is the usual change around a place, as a share of the shorter side. */
const AROUND = 1 / 20;
/** What stands out more than so many spreads is cut, so that one crack cannot decide. */
const [LOWEST, HIGHEST] = [-1.5, 3.5];

/** Less the usual around each place, in its own spread: stains and rough spots count as much as the rest. */
export function levelled(plane: Plane): Plane {
  const { width, height, data } = plane;
  const reach = Math.max(4, Math.round(AROUND * Math.min(width, height)));
  const out = blurred(plane, reach);
  let squares = 0;
  for (let i = 0; i < out.length; i++) {
    out[i] = data[i] - out[i];
    squares += out[i] * out[i];
  }
  const spread = Math.sqrt(squares / out.length);
  const scale = spread > 1e-6 ? 1 / spread : 0;
  for (let i = 0; i < out.length; i++) out[i] = Math.max(LOWEST, Math.min(HIGHEST, out[i] * scale));
  return { width, height, data: out };
}

/** Means over squares of a plane that goes on at its other side. */
function blurred({ width, height, data }: Plane, reach: number): Float32Array {
  const across = new Float32Array(data.length);
  const [spanX, spanY] = [width, height].map((side) => Math.min(reach, (side - 1) >> 1));
  for (let y = 0; y < height; y++) {
    const row = y * width;
    let sum = 0;
    for (let k = -spanX; k <= spanX; k++) sum += data[row + ((k + width) % width)];
    for (let x = 0; x < width; x++) {
      across[row + x] = sum;
      const [next, last] = [x + spanX + 1, x - spanX];
      sum += data[row + (next < width ? next : next - width)] - data[row + (last < 0 ? last + width : last)];
    }
  }
  // Row by row, so that memory is read in the order in which it lies.
  const out = new Float32Array(data.length);
  const sums = new Float32Array(width);
  const share = 1 / ((2 * spanX + 1) * (2 * spanY + 1));
  const add = (row: number, sign: number) => {
    const from = ((row + height) % height) * width;
    for (let x = 0; x < width; x++) sums[x] += sign * across[from + x];
  };
  for (let k = -spanY; k <= spanY; k++) add(k, 1);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) out[y * width + x] = sums[x] * share;
    add(y + spanY + 1, 1);
    add(y - spanY, -1);
  }
  return out;
}
