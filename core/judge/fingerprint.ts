import { forward } from "#core/raster/fft";
import { deviationOf, meanOf, resample, type Plane } from "#core/raster/plane";

/** Twelve numbers of twelve bits: two images that share one of them at its place may be one picture. */
export type Fingerprint = number[];

const SIDE = 64;
export const BANDS = 12;
const BITS = 12;

/**
 * A fingerprint of a picture that stays the same when it is encoded again, resized, tinted, turned by quarters, or shifted as a
 * tile: the magnitudes of its low frequencies do not know of shifts, and sums and differences over the quarter turns do
 * not know of turns. Each bit says whether one such figure is larger than another at a like frequency. Null for an image
 * without a picture in it.
 */
export function fingerprintOf(luma: Plane): Fingerprint | null {
  const plane = resample(luma, SIDE, SIDE);
  const deviation = deviationOf(plane);
  if (deviation < 0.004) return null;
  const mean = meanOf(plane);
  const { data } = forward({ ...plane, data: plane.data.map((v) => (v - mean) / deviation) });
  const magnitude = (u: number, v: number) => {
    const i = (((v + SIDE) % SIDE) * SIDE + ((u + SIDE) % SIDE)) * 2;
    return Math.log(Math.hypot(data[i], data[i + 1]) + 1);
  };
  const figures = FREQUENCIES.flatMap(([u, v]) => {
    const here = magnitude(u, v);
    const turned = magnitude(-v, u);
    return [here + turned, 2 * Math.abs(here - turned)];
  });
  const bands: Fingerprint = [];
  for (let band = 0; band < BANDS; band++) {
    let bits = 0;
    for (let bit = 0; bit < BITS; bit++) {
      const [a, b] = PAIRS[band * BITS + bit];
      bits = (bits << 1) | (figures[a] > figures[b] ? 1 : 0);
    }
    bands.push(bits);
  }
  return bands;
}

/** Half-plane frequencies up to 9 cycles, one of each quarter-turn pair, from coarse to fine. */
const FREQUENCIES: [number, number][] = [];
for (let u = 1; u <= 9; u++)
  for (let v = 0; v <= 9; v++) if (Math.hypot(u, v) <= 9.2) FREQUENCIES.push([u, v]);
FREQUENCIES.sort(([a, b], [c, d]) => Math.hypot(a, b) - Math.hypot(c, d));

/** Which figures are compared: sums with sums and differences with differences, of frequencies near each other in order. */
const PAIRS: [number, number][] = [];
for (let gap = 1; PAIRS.length < BANDS * BITS; gap++)
  for (let i = 0; i + gap < FREQUENCIES.length && PAIRS.length < BANDS * BITS; i += gap + 1)
    for (const kind of [0, 1]) PAIRS.push([2 * i + kind, 2 * (i + gap) + kind]);
PAIRS.length = BANDS * BITS;
