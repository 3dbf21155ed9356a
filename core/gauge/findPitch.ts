import { resample, type Plane } from "#core/raster/plane";

/** The distance after which a pattern begins again in one direction. */
export interface Pitch {
  /** In pixels of the image, with fractions. */
  pixels: number;
  /** Correlation of the image with itself after this distance, −1..1. */
  likeness: number;
}

/** Side of the reduced image in which the pitch is looked for. */
export const PITCH_SEARCH = 384;
/** A peak that stands out less above the middle of the curve is no repetition. */
const LEAST = 0.3;
/** A smaller shift may be the pitch where it is good enough against the best: joints between two pixels are seen less well. */
const ENOUGH = 0.5;
/** In half bond each second course is less alike than this against the others, and in third bond two of three. */
const BOND = 0.75;

/**
 * The pitch of a pattern across or down, by the correlation of the image with itself over growing shifts. The image need
 * not be seamless: only what overlaps is compared. Undefined where nothing repeats.
 * @param planes maps that lie over each other, all of one size
 */
export function findPitch(planes: Plane[], direction: "across" | "down"): Pitch | undefined {
  const [{ width, height }] = planes;
  const size = direction === "across" ? width : height;
  const ratio = Math.max(1, size / PITCH_SEARCH);
  const reduced = planes.map((plane) =>
    resample(plane, Math.max(16, Math.round(width / ratio)), Math.max(16, Math.round(height / ratio))),
  );
  const compared = reduced
    .flatMap((plane) => [plane, edgesOf(plane)])
    .map((plane) => prepared(plane, direction));
  const side = direction === "across" ? compared[0].width : compared[0].height;
  const most = Math.floor(side * 0.75);
  const curve = Float32Array.from({ length: most + 1 }, (_, shift) => likenessAt(compared, direction, shift));
  const middle = Float32Array.from(curve).sort()[most >> 1];
  const peaks: number[] = [];
  for (let shift = 2; shift < most; shift++)
    if (
      curve[shift] >= curve[shift - 1] &&
      curve[shift] > curve[shift + 1] &&
      curve[shift] - middle >= LEAST &&
      lowest(curve, shift) < curve[shift] - LEAST / 2
    )
      peaks.push(shift);
  if (peaks.length === 0) return undefined;
  const best = Math.max(...peaks.map((shift) => curve[shift]));
  const first = peaks.find((shift) => curve[shift] >= best * ENOUGH)!;
  const { period, likeness } = refined(curve, first);
  return { pixels: (period * size) / side, likeness };
}

/** The deepest valley before a peak: without one it lies on the slope from perfect likeness. */
const lowest = (curve: Float32Array, before: number) => Math.min(...curve.subarray(0, before));

/** Size of the change at each place: joints show in it, however much the pieces differ. */
function edgesOf({ width, height, data }: Plane): Plane {
  const out = new Float32Array(data.length);
  for (let y = 0; y < height - 1; y++)
    for (let x = 0; x < width - 1; x++) {
      const i = y * width + x;
      out[i] = Math.hypot(data[i + 1] - data[i], data[i + width] - data[i]);
    }
  return { width, height, data: out };
}

/**
 * Made ready for comparing: what stays the same all along the direction says nothing of a pitch and is taken off each line,
 * and what is finer than a pixel's step is smoothed, or a joint between two samples would be missed.
 */
function prepared({ width, height, data }: Plane, direction: "across" | "down"): Plane {
  const [length, lines, step, stride] =
    direction === "across" ? [width, height, 1, width] : [height, width, width, 1];
  const out = new Float32Array(data.length);
  for (let line = 0; line < lines; line++) {
    const start = line * stride;
    let sum = 0;
    for (let k = 0; k < length; k++) sum += data[start + k * step];
    const mean = sum / length;
    for (let k = 0; k < length; k++) {
      const at = (n: number) => data[start + Math.min(length - 1, Math.max(0, n)) * step];
      const smooth = (at(k - 2) + at(k + 2) + 4 * (at(k - 1) + at(k + 1)) + 6 * at(k)) / 16;
      out[start + k * step] = smooth - mean;
    }
  }
  return { width, height, data: out };
}

/**
 * The period from the multiple that is most alike, where no part of a pixel is left over; of those the farthest, because a
 * fraction of a pixel weighs least there. Where only each second, third or fourth multiple is really alike, as in a bond,
 * that many make the period.
 */
function refined(curve: Float32Array, first: number): { period: number; likeness: number } {
  const multiples: { at: number; likeness: number }[] = [
    { at: summit(curve, first), likeness: curve[first] },
  ];
  let period = multiples[0].at;
  for (let times = 2; times * period < curve.length - 2; times++) {
    const reach = Math.max(1.5, 0.05 * period);
    const to = Math.min(curve.length - 2, Math.floor(times * period + reach));
    let at = Math.ceil(times * period - reach);
    for (let shift = at; shift <= to; shift++) if (curve[shift] > curve[at]) at = shift;
    const isPeak = curve[at] >= curve[at - 1] && curve[at] >= curve[at + 1];
    multiples.push({ at: isPeak ? summit(curve, at) : times * period, likeness: curve[at] });
    if (isPeak && curve[at] >= curve[first] * 0.6) period = multiples[times - 1].at / times;
  }
  const bond = bondOf(multiples.map(({ likeness }) => likeness));
  let best = { period: bond * multiples[0].at, worth: -Infinity };
  for (const [i, { at, likeness }] of multiples.entries()) {
    const times = (i + 1) / bond;
    const worth = likeness * (1 + 0.03 * times);
    if (Number.isInteger(times) && worth > best.worth) best = { period: at / times, worth };
  }
  return { period: best.period, likeness: multiples[bond - 1].likeness };
}

/** How many steps make a period: 1, or 2 to 4 where the multiples of that number are clearly more alike than the others. */
function bondOf(likeness: number[]): number {
  let best = { steps: 1, share: BOND };
  for (const steps of [2, 3, 4]) {
    if (likeness.length < 2 * steps) break;
    const mean = (whole: boolean) => {
      const chosen = likeness.filter((_, i) => ((i + 1) % steps === 0) === whole);
      return chosen.reduce((sum, v) => sum + v, 0) / chosen.length;
    };
    const share = mean(false) / mean(true);
    if (share < best.share) best = { steps, share };
  }
  return best.steps;
}

/** A peak between the samples, by the parabola through it and its neighbours. */
function summit(curve: Float32Array, at: number): number {
  const [before, here, after] = [curve[at - 1], curve[at], curve[at + 1]];
  const bend = before - 2 * here + after;
  return bend < -1e-9 ? at + (before - after) / (2 * bend) : at;
}

/** Mean correlation of the planes with themselves after a shift, over what overlaps. */
function likenessAt(planes: Plane[], direction: "across" | "down", shift: number): number {
  let sum = 0;
  for (const { width, height, data } of planes) {
    const [dx, dy] = direction === "across" ? [shift, 0] : [0, shift];
    let [a1, b1, aa, bb, ab, count] = [0, 0, 0, 0, 0, 0];
    for (let y = 0; y < height - dy; y++)
      for (let x = 0; x < width - dx; x++) {
        const a = data[y * width + x];
        const b = data[(y + dy) * width + x + dx];
        a1 += a;
        b1 += b;
        aa += a * a;
        bb += b * b;
        ab += a * b;
        count++;
      }
    const scale = Math.sqrt((aa - (a1 * a1) / count) * (bb - (b1 * b1) / count));
    sum += scale > 1e-9 * count ? (ab - (a1 * b1) / count) / scale : 0;
  }
  return sum / planes.length;
}
