import { mirrored, turned } from "#core/judge/alignment";
import { blurred } from "#core/raster/blurred";
import { forward, inverse, type Spectrum } from "#core/raster/fft";
import { correlation, deviationOf, lumaOf, resample, wrapped, type Plane } from "#core/raster/plane";
import { maxValue, type Raster } from "#core/raster/raster";

/** How one picture follows from another. */
export interface Likeness {
  /**
   * Correlation of the lightness after mirroring, turning and shifting, −1..1; the same picture from `SAME_PICTURE` on. Bands that go
   * through the whole picture are alike in walls that have nothing else in common: what is left without them has to be alike too.
   */
  alike: number;
  /** Whether left and right are exchanged first, then quarter turns clockwise and the shift, as shares of the side, that bring the second to the first. */
  mirrored: boolean;
  turns: 0 | 1 | 2 | 3;
  shiftX: number;
  shiftY: number;
  /** Mean difference of the channels after that, second less first, 0..1: a tint. */
  tint: [number, number, number];
  /** What both show where one is only a part of the other; the correlation holds for that. */
  parts?: { first: Part; second: Part };
}

/** A part of a picture, in shares of its sides from the upper left. */
export interface Part {
  left: number;
  top: number;
  width: number;
  height: number;
}

export const SAME_PICTURE = 0.86;

const SIDE = 128;
/** Of what is found by the spectra against the same by samples. */
const ROUNDING = 1e-3;

/** Finds the turn and the shift under which two pictures are most alike, both taken as tiles squeezed into a square. */
export function likenessOf(first: Raster, second: Raster): Likeness {
  // Softened, so that a shift by half a sample does not hide what is alike.
  const a = blurred(resample(lumaOf(first), SIDE, SIDE), 1.2);
  const b = blurred(resample(lumaOf(second), SIDE, SIDE), 1.2);
  const own = forward(a);
  const without = unbanded(a);
  const deviations = deviationOf(a) * deviationOf(b);
  let best: Likeness = { alike: -2, mirrored: false, turns: 0, shiftX: 0, shiftY: 0, tint: [0, 0, 0] };
  for (const isMirrored of [false, true])
    for (const turns of [0, 1, 2, 3] as const) {
      const candidate = turned(isMirrored ? mirrored(b) : b, turns);
      const { x, y, product } = bestShift(own, forward(candidate));
      // A turn or a shift has to gain something over nothing at all.
      const toBeat = best.alike + 0.02;
      if (product < (toBeat - ROUNDING) * deviations) continue;
      const moved = shifted(candidate, x, y);
      const alike = Math.min(correlation(a, moved), alikeWithoutBands(without, unbanded(moved)));
      if (alike > toBeat)
        best = {
          ...best,
          alike,
          mirrored: isMirrored,
          turns,
          shiftX: signed(x) / SIDE,
          shiftY: signed(y) / SIDE,
        };
    }
  return { ...best, tint: tintBetween(first, second) };
}

/** Mean difference of the channels, second less first. */
export const tintBetween = (first: Raster, second: Raster): Likeness["tint"] =>
  [0, 1, 2].map((c) => meanChannel(second, c) - meanChannel(first, c)) as Likeness["tint"];

/** What is left without bands says nothing where it is as little as an encoder changes, in lightness. */
const LEAST_LEFT = 0.003;
/** And is blurred more by an encoder than bands are. */
const BLURRED = 0.12;

/** The correlation of what is left of both without the mean of each row and column; 1 where too little is left of either. */
export const withoutBands = (a: Plane, b: Plane): number => alikeWithoutBands(unbanded(a), unbanded(b));

function alikeWithoutBands(left: Plane, right: Plane): number {
  if (Math.min(deviationOf(left), deviationOf(right)) < LEAST_LEFT) return 1;
  return Math.min(1, correlation(left, right) + BLURRED);
}

function unbanded(plane: Plane): Plane {
  const { width, height, data } = plane;
  const rows = new Float64Array(height);
  const columns = new Float64Array(width);
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      rows[y] += data[i] / width;
      columns[x] += data[i] / height;
    }
  const mean = rows.reduce((sum, row) => sum + row / height, 0);
  const left = new Float32Array(data.length);
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) left[i] = data[i] - rows[y] - columns[x] + mean;
  return { ...plane, data: left };
}

/** The shift at which the second, moved back by it, correlates best with the first, and the mean of their products there. */
function bestShift(a: Spectrum, b: Spectrum): { x: number; y: number; product: number } {
  const product = new Float64Array(a.data.length);
  // Without the first, which is of their means.
  for (let i = 2; i < product.length; i += 2) {
    product[i] = a.data[i] * b.data[i] + a.data[i + 1] * b.data[i + 1];
    product[i + 1] = a.data[i] * b.data[i + 1] - a.data[i + 1] * b.data[i];
  }
  const surface = inverse({ ...a, data: product }).data;
  let best = 0;
  for (let i = 1; i < surface.length; i++) if (surface[i] > surface[best]) best = i;
  return { x: best % SIDE, y: Math.floor(best / SIDE), product: surface[best] / surface.length };
}

const signed = (at: number) => (at > SIDE / 2 ? at - SIDE : at);

function shifted(plane: Plane, x: number, y: number): Plane {
  const data = new Float32Array(plane.data.length);
  for (let row = 0; row < plane.height; row++)
    for (let column = 0; column < plane.width; column++)
      data[row * plane.width + column] = wrapped(plane, column + x, row + y);
  return { ...plane, data };
}

/** 0..1; of a grey image, its one channel. */
export function meanChannel({ channels, data, ...raster }: Raster, channel: number): number {
  let sum = 0;
  const c = channels < 3 ? 0 : channel;
  for (let i = c; i < data.length; i += channels) sum += data[i];
  return sum / (data.length / channels) / maxValue({ bitDepth: raster.bitDepth });
}
