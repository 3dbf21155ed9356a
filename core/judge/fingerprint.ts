import { forward } from "#core/raster/fft";
import { deviationOf, meanOf, resample, type Plane } from "#core/raster/plane";

/** Twelve numbers of twelve bits: two images that share one of them at its place may be one picture. */
export type Fingerprint = number[];

const SIDE = 64;
/** Standard deviation of the lightness, 0..1: with less there is no picture in it. */
export const LEAST_CONTRAST = 0.004;
const BANDS = 12;
const BITS = 12;

/**
 * A fingerprint of a picture that stays the same when it is encoded again, resized, tinted, turned by quarters, mirrored, or shifted
 * as a tile: the magnitudes of its low frequencies do not know of shifts, and their sums and differences over the quarter turns
 * and mirror images do not know of those. Each bit says whether one such figure is larger than another at a like frequency. Null for an
 * image without a picture in it.
 */
export function fingerprintOf(luma: Plane): Fingerprint | null {
  const plane = resample(luma, SIDE, SIDE);
  const deviation = deviationOf(plane);
  if (deviation < LEAST_CONTRAST) return null;
  const mean = meanOf(plane);
  const { data } = forward({ ...plane, data: plane.data.map((v) => (v - mean) / deviation) });
  const magnitude = (u: number, v: number) => {
    const i = (((v + SIDE) % SIDE) * SIDE + ((u + SIDE) % SIDE)) * 2;
    return Math.log(Math.hypot(data[i], data[i + 1]) + 1);
  };
  const figures = FREQUENCIES.map(([u, v]) => {
    const [here, turned] = [magnitude(u, v), magnitude(-v, u)];
    const [mirrored, both] = [magnitude(u, -v), magnitude(v, u)];
    // Turning and mirroring exchange these in pairs: that changes at most the sign of each sum.
    return [
      here + turned + mirrored + both,
      Math.abs(here - turned + mirrored - both),
      Math.abs(here + turned - mirrored - both),
      Math.abs(here - turned - mirrored + both),
    ];
  });
  const bands: Fingerprint = [];
  for (let band = 0; band < BANDS; band++) {
    let bits = 0;
    for (let bit = 0; bit < BITS; bit++) {
      const { kind, a, b } = PAIRS[band * BITS + bit];
      bits = (bits << 1) | (figures[a][kind] > figures[b][kind] ? 1 : 0);
    }
    bands.push(bits);
  }
  return bands;
}

/** One of each set of frequencies up to 9 cycles that turns and mirror images exchange, from coarse to fine. */
const FREQUENCIES: [number, number][] = [];
for (let u = 1; u <= 9; u++)
  for (let v = 0; v <= u; v++) if (Math.hypot(u, v) <= 9.2) FREQUENCIES.push([u, v]);
FREQUENCIES.sort(([a, b], [c, d]) => Math.hypot(a, b) - Math.hypot(c, d));

/** Frequencies along an edge or a diagonal are their own mirror images: two of their figures are always 0. */
const OWN_MIRROR = new Set(FREQUENCIES.flatMap(([u, v], i) => (v === 0 || v === u ? [i] : [])));

/** Which figures are compared: each with one of its kind at a frequency near in order. */
const PAIRS: { kind: number; a: number; b: number }[] = [];
for (let gap = 1; PAIRS.length < BANDS * BITS; gap++)
  for (let i = 0; i + gap < FREQUENCIES.length; i += gap + 1)
    for (const kind of [0, 1, 2, 3])
      if (PAIRS.length < BANDS * BITS && (kind < 2 || !(OWN_MIRROR.has(i) || OWN_MIRROR.has(i + gap))))
        PAIRS.push({ kind, a: i, b: i + gap });
