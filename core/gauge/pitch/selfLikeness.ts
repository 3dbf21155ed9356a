import FFT from "fft.js";
import { deviationOf, meanOf, type Plane } from "#core/raster/plane";

/** How much the lines of a picture that ends at its edges are like those so many lines below, by the shift along them. */
export interface SelfLikeness {
  width: number;
  height: number;
  /** Of what overlaps, in the picture's own spread, −1..1, for shifts from `-most` to `most`, softened by a sample. */
  curve: (linesApart: number) => Float32Array;
  most: number;
}

/** Along the lines: a pitch is no whole number of samples, and thin joints that fall between two would be less alike than those that do not. */
function softened({ width, height, data }: Plane): Plane {
  const out = new Float32Array(data.length);
  for (let y = 0, i = 0; y < height; y++) {
    const at = (x: number) => data[y * width + Math.max(0, Math.min(width - 1, x))];
    for (let x = 0; x < width; x++, i++) out[i] = (at(x - 1) + 2 * at(x) + at(x + 1)) / 4;
  }
  return { width, height, data: out };
}

/** @param most the farthest shift that is asked for, in samples, less than the width */
export function selfLikenessOf(plane: Plane, most: number): SelfLikeness {
  const { width, height, data } = softened(plane);
  const side = 2 ** Math.ceil(Math.log2(width + most + 2));
  const fft = new FFT(side);
  const mean = meanOf({ width, height, data });
  const variance = Math.max(1e-9, deviationOf({ width, height, data }) ** 2);
  const lines = Array.from({ length: height }, (_, y) => {
    const line = new Float64Array(side);
    for (let x = 0; x < width; x++) line[x] = data[y * width + x] - mean;
    const spectrum = new Float64Array(2 * side);
    fft.realTransform(spectrum, line);
    return Float32Array.from(spectrum.subarray(0, side + 2));
  });
  const measured = (apart: number): Float32Array => {
    const sum = new Float64Array(2 * side);
    for (let y = Math.max(0, -apart); y < Math.min(height, height - apart); y++) {
      const [a, b] = [lines[y], lines[y + apart]];
      for (let i = 0; i <= side; i += 2) {
        sum[i] += a[i] * b[i] + a[i + 1] * b[i + 1];
        sum[i + 1] += a[i] * b[i + 1] - a[i + 1] * b[i];
      }
    }
    fft.completeSpectrum(sum);
    const back = new Float64Array(2 * side);
    fft.inverseTransform(back, sum);
    const rows = height - Math.abs(apart);
    const raw = (shift: number) =>
      back[2 * ((shift + side) % side)] / (rows * Math.max(1, width - Math.abs(shift)) * variance);
    return Float32Array.from(
      { length: 2 * most + 1 },
      (_, i) => (raw(i - most - 1) + 2 * raw(i - most) + raw(i - most + 1)) / 4,
    );
  };
  const between = kept(measured);
  // A course does not begin on whole samples: the best of three.
  const nearby = kept((apart: number) => {
    const [before, at, after] = [-1, 0, 1].map((e) => between(apart + e));
    return at.map((v, i) => Math.max(v, before[i], after[i]));
  });
  return {
    width,
    height,
    most,
    curve: (apart) => (apart === 0 ? between(0) : nearby(Math.round(apart))),
  };
}

function kept<T>(make: (key: number) => T): (key: number) => T {
  const known = new Map<number, T>();
  return (key) => {
    const found = known.get(key) ?? make(key);
    known.set(key, found);
    return found;
  };
}
