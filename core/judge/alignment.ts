import { gradientOf } from "#core/judge/normalDirection";
import { phaseShift } from "#core/raster/fft";
import { lumaOf, resample, type Plane } from "#core/raster/plane";
import type { Raster } from "#core/raster/raster";
import { slopesOf } from "#core/relief/slopes";

/** How one map of a set lies against another. */
export interface Alignment {
  /** Quarter turns clockwise that bring the second map to the first. */
  turns: 0 | 1 | 2 | 3;
  mirrored: boolean;
  /** Where the second map's content lies against the first's, as shares of the width and height, −0.5..0.5. */
  shiftX: number;
  shiftY: number;
  /** How clear that is: the peak of the phase correlation, 0..1. */
  peak: number;
  /** How high the surface is with both as they are. */
  peakInPlace: number;
}

const SIDE = 128;

/** A peak below this is chance. */
export const CLEAR_PEAK = 0.06;

/** Where something changes: what maps of one surface have in common, whatever they say. */
export function edgesOf(map: Raster, isNormal: boolean): Plane {
  const { width, height } = map;
  let [a, b] = [undefined, undefined] as unknown as [Plane, Plane];
  if (isNormal && map.channels >= 3) {
    const slopes = slopesOf(map, "+Y");
    [a, b] = [slopes.p, slopes.q];
  } else {
    const gradient = gradientOf(lumaOf(map));
    [a, b] = [gradient.across, gradient.down];
  }
  const data = new Float32Array(width * height);
  for (let i = 0; i < data.length; i++) data[i] = Math.min(4, Math.hypot(a.data[i], b.data[i]));
  return resample({ width, height, data }, SIDE, SIDE);
}

/** Compares two maps by their edges, in all quarter turns and mirrored, each at its best shift (phase correlation). */
export function alignmentOf(first: Plane, second: Plane): Alignment {
  const straight = phaseShift(first, second);
  let best: Alignment = {
    turns: 0,
    mirrored: false,
    shiftX: straight.x / SIDE,
    shiftY: straight.y / SIDE,
    peak: straight.peak,
    peakInPlace: straight.inPlace,
  };
  if (straight.peak > 0.3) return best;
  for (const isMirrored of [false, true])
    for (const turns of [0, 1, 2, 3] as const) {
      if (turns === 0 && !isMirrored) continue;
      const shift = phaseShift(first, turned(isMirrored ? mirrored(second) : second, turns));
      // Another orientation has to be plainly better: patterns are symmetrical in part.
      if (shift.peak > best.peak * 1.5 && shift.peak > CLEAR_PEAK)
        best = {
          ...best,
          turns,
          mirrored: isMirrored,
          shiftX: shift.x / SIDE,
          shiftY: shift.y / SIDE,
          peak: shift.peak,
        };
    }
  return best;
}

/** Turned clockwise by quarters; a square plane stays one. */
export function turned(plane: Plane, quarters: number): Plane {
  let { width, height, data } = plane;
  for (let turn = 0; turn < quarters; turn++) {
    const out = new Float32Array(data.length);
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) out[x * height + (height - 1 - y)] = data[y * width + x];
    data = out;
    [width, height] = [height, width];
  }
  return { width, height, data };
}

/** Left and right exchanged. */
export function mirrored({ width, height, data }: Plane): Plane {
  const out = new Float32Array(data.length);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) out[y * width + (width - 1 - x)] = data[y * width + x];
  return { width, height, data: out };
}
