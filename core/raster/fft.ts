import FFT from "fft.js";
import type { Plane } from "#core/raster/plane";

/** A plane's spectrum: complex numbers interleaved, rows from frequency 0. */
export interface Spectrum {
  width: number;
  height: number;
  data: Float64Array;
}

/** @throws {RangeError} where a side is no power of two. */
export function forward(plane: Plane): Spectrum {
  const data = new Float64Array(plane.width * plane.height * 2);
  for (let i = 0; i < plane.data.length; i++) data[2 * i] = plane.data[i];
  const spectrum = { width: plane.width, height: plane.height, data };
  transform(spectrum, "transform");
  return spectrum;
}

/**
 * |A|² + |B|² at each frequency for two planes, by one transform of a + ib: the halves that belong to a and to b cannot be told
 * apart without the frequency's opposite, but their sum needs no telling.
 */
export function jointPower(a: Plane, b: Plane): Plane {
  const { width, height } = a;
  const data = new Float64Array(width * height * 2);
  for (let i = 0; i < a.data.length; i++) {
    data[2 * i] = a.data[i];
    data[2 * i + 1] = b.data[i];
  }
  transform({ width, height, data }, "transform");
  const power = new Float32Array(width * height);
  for (let y = 0, i = 0; y < height; y++) {
    const opposite = ((height - y) % height) * width;
    for (let x = 0; x < width; x++, i++) {
      const j = opposite + (x === 0 ? 0 : width - x);
      power[i] = (data[2 * i] ** 2 + data[2 * i + 1] ** 2 + data[2 * j] ** 2 + data[2 * j + 1] ** 2) / 2;
    }
  }
  return { width, height, data: power };
}

/** Back to a plane; the imaginary part is dropped. The spectrum is used up. */
export function inverse(spectrum: Spectrum): Plane {
  transform(spectrum, "inverseTransform");
  const data = new Float32Array(spectrum.width * spectrum.height);
  for (let i = 0; i < data.length; i++) data[i] = spectrum.data[2 * i];
  return { width: spectrum.width, height: spectrum.height, data };
}

/** Back to two planes at once: the real and the imaginary part. The spectrum is used up. */
export function inverseBoth(spectrum: Spectrum): [Plane, Plane] {
  transform(spectrum, "inverseTransform");
  const { width, height, data } = spectrum;
  const [real, imaginary] = [new Float32Array(width * height), new Float32Array(width * height)];
  for (let i = 0; i < real.length; i++) {
    real[i] = data[2 * i];
    imaginary[i] = data[2 * i + 1];
  }
  return [
    { width, height, data: real },
    { width, height, data: imaginary },
  ];
}

function transform({ width, height, data }: Spectrum, direction: "transform" | "inverseTransform"): void {
  for (const side of [width, height])
    if (side < 2 || (side & (side - 1)) !== 0)
      throw new RangeError(`A transform needs sides of powers of two; ${width} × ${height} came.`);
  const rows = new FFT(width);
  const rowOut = new Float64Array(width * 2);
  for (let y = 0; y < height; y++) {
    const row = data.subarray(y * width * 2, (y + 1) * width * 2);
    rows[direction](rowOut, row);
    row.set(rowOut);
  }
  const columns = new FFT(height);
  const column = new Float64Array(height * 2);
  const columnOut = new Float64Array(height * 2);
  for (let x = 0; x < width; x++) {
    for (let y = 0; y < height; y++) {
      column[2 * y] = data[(y * width + x) * 2];
      column[2 * y + 1] = data[(y * width + x) * 2 + 1];
    }
    columns[direction](columnOut, column);
    for (let y = 0; y < height; y++) {
      data[(y * width + x) * 2] = columnOut[2 * y];
      data[(y * width + x) * 2 + 1] = columnOut[2 * y + 1];
    }
  }
}

/** Where the content of `b` lies against that of `a`, both taken as repeating. */
export interface Shift {
  /** Pixels to the right and down, −half..half of the side. */
  x: number;
  y: number;
  /** Height of the peak, 0..1: near 1 where one is the other, shifted; near 0 where they have nothing to do with each other. */
  peak: number;
  /** The height of the surface at no shift, on the same scale. */
  inPlace: number;
}

/** Phase correlation (Kuglin and Hines 1975) of two planes of one size, sides of powers of two. */
export function phaseShift(a: Plane, b: Plane): Shift {
  const [fa, fb] = [forward(a), forward(b)];
  const product = new Float64Array(fa.data.length);
  let energy = 0;
  for (let i = 0; i < product.length; i += 2) {
    const re = fa.data[i] * fb.data[i] + fa.data[i + 1] * fb.data[i + 1];
    const im = fa.data[i] * fb.data[i + 1] - fa.data[i + 1] * fb.data[i];
    const length = Math.hypot(re, im);
    // The mean says nothing of a shift, and frequencies without energy only add noise.
    if (i === 0 || length < 1e-9) continue;
    product[i] = re / length;
    product[i + 1] = im / length;
    energy++;
  }
  const surface = inverse({ width: a.width, height: a.height, data: product });
  let best = 0;
  for (let i = 1; i < surface.data.length; i++) if (surface.data[i] > surface.data[best]) best = i;
  const x = best % a.width;
  const y = Math.floor(best / a.width);
  const signed = (at: number, side: number) => (at > side / 2 ? at - side : at);
  const height = (at: number) => (energy > 0 ? (surface.data[at] * surface.data.length) / energy : 0);
  return { x: signed(x, a.width), y: signed(y, a.height), peak: height(best), inPlace: height(0) };
}
