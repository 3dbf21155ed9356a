import { blurred } from "#core/raster/blurred";
import { meanOf, resample, type Plane } from "#core/raster/plane";
import { createRaster, maxValue, type Raster } from "#core/raster/raster";
import { linearTable, linearToSrgb } from "#core/raster/srgb";

/** Side of the grid on which light and dark are taken out; a power of two. */
const GRID = 64;

/**
 * Takes the slow light and dark of a photograph out of a colour map: each pixel is divided by the surroundings' linear luminance and
 * multiplied by the mean, so that the mean colour stays. The image is taken as one that repeats.
 * @param size what counts as slow, as a share of the image (0.05..0.5)
 * @param strength 0 nothing, 1 all of it
 */
export function evenOut(raster: Raster, size: number, strength: number): Raster {
  const { width, height, channels, data } = raster;
  const table = linearTable(raster.bitDepth);
  const light = new Float32Array(width * height);
  for (let i = 0, o = 0; o < light.length; i += channels, o++)
    light[o] =
      channels < 3
        ? table[data[i]]
        : 0.2126 * table[data[i]] + 0.7152 * table[data[i + 1]] + 0.0722 * table[data[i + 2]];
  const slow = blurred(resample({ width, height, data: light }, GRID, GRID), (GRID * size) / 6);
  const mean = meanOf(slow);
  const gain: Plane = { ...slow, data: slow.data.map((v) => (mean / Math.max(v, mean * 0.05)) ** strength) };
  const out = createRaster(width, height, channels, raster.bitDepth);
  const max = maxValue(raster);
  const colors = channels < 3 ? 1 : 3;
  let [before, after] = [0, 0];
  const linear = new Float32Array(width * height * colors);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const factor = bilinear(gain, ((x + 0.5) / width) * GRID - 0.5, ((y + 0.5) / height) * GRID - 0.5);
      const i = y * width + x;
      for (let c = 0; c < colors; c++) {
        const v = table[data[i * channels + c]];
        linear[i * colors + c] = v * factor;
        before += v;
        after += v * factor;
      }
    }
  // What the division gained or lost over all is given back, so that the mean stays.
  const keep = after > 0 ? before / after : 1;
  for (let i = 0; i < width * height; i++)
    for (let c = 0; c < channels; c++)
      out.data[i * channels + c] =
        c < colors
          ? Math.round(max * linearToSrgb(Math.min(1, linear[i * colors + c] * keep)))
          : data[i * channels + c];
  return out;
}

function bilinear({ width, height, data }: Plane, x: number, y: number): number {
  const [x0, y0] = [Math.floor(x), Math.floor(y)];
  const [fx, fy] = [x - x0, y - y0];
  const at = (column: number, row: number) =>
    data[((row + height) % height) * width + ((column + width) % width)];
  return (
    (1 - fy) * ((1 - fx) * at(x0, y0) + fx * at(x0 + 1, y0)) +
    fy * ((1 - fx) * at(x0, y0 + 1) + fx * at(x0 + 1, y0 + 1))
  );
}
