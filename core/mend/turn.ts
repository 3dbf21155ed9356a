import { Refusal } from "#core/text/refusal";
import type { Repeat } from "#core/length/repeat";
import type { NormalDirection } from "#core/roles/roles";
import { catmullRom } from "#core/raster/cubic";
import { createRaster, maxValue, type Raster } from "#core/raster/raster";
import { linearTable, linearToSrgb } from "#core/raster/srgb";

/**
 * A turn after which a repeating image repeats again: its new width runs along so many old repeats to the right and down,
 * its new height along so many to the left and down. So the picture turns to the left, counter-clockwise.
 */
export interface Turn {
  /** Old repeats along the new width. */
  right: number;
  down: number;
  /** Old repeats along the new height. */
  left: number;
  below: number;
}

/** What a turn comes to. */
export interface TurnedSize {
  turn: Turn;
  /** Counter-clockwise, degrees, 0 ≤ angle < 360. */
  angle: number;
  repeat: Repeat;
  /** By how much the corners have to be pushed to right angles, in percent of the length. */
  skewPercent: number;
}

/** More skew than this is no turn any more. */
const MOST_SKEW_PERCENT = 1.5;
/** The new image covers at most so many old ones. */
const MOST_AREA = 26;
const MOST_STEPS = 8;

/** The quarter turn to the left, n times. */
export function quarterTurn(quarters: number): Turn {
  const [cos, sin] = [
    [1, 0],
    [0, 1],
    [-1, 0],
    [0, -1],
  ][((quarters % 4) + 4) % 4];
  return { right: cos, down: sin, left: sin, below: cos };
}

/** What an image becomes by a turn. @throws {Refusal} where nothing would be left of it or it would be skewed */
export function turnedSize(turn: Turn, repeat: Repeat): TurnedSize {
  const { right, down, left, below } = turn;
  const u = { x: right * repeat.width, y: down * repeat.height };
  const v = { x: -left * repeat.width, y: below * repeat.height };
  const [width, height] = [Math.hypot(u.x, u.y), Math.hypot(v.x, v.y)];
  if (![right, down, left, below].every(Number.isInteger) || right * below + down * left <= 0)
    throw new Refusal("This is no turn: it would leave nothing of the image, or mirror it.");
  const skewPercent = (100 * Math.abs(u.x * v.x + u.y * v.y)) / (width * height);
  if (skewPercent > MOST_SKEW_PERCENT)
    throw new Refusal("At this angle the image does not repeat with right corners.");
  const angle = ((Math.atan2(u.y, u.x) * 180) / Math.PI + 360) % 360;
  return { turn, angle, repeat: { width, height }, skewPercent };
}

/**
 * The turns between 0 and 90° after which an image repeats, the smallest images first; these are the rational angles of
 * its repeat.
 */
export function seamlessTurns(repeat: Repeat): TurnedSize[] {
  const found: TurnedSize[] = [];
  for (let right = 1; right <= MOST_STEPS; right++)
    for (let down = 1; down <= MOST_STEPS; down++) {
      if (gcd(right, down) > 1) continue;
      // At right angles to (right·w, down·h): (−left·w, below·h) with left/below = down·h² / (right·w²).
      for (let below = 1; below <= MOST_STEPS; below++) {
        const left = Math.round((below * down * repeat.height ** 2) / (right * repeat.width ** 2));
        if (left < 1 || gcd(left, below) > 1 || right * below + down * left > MOST_AREA) continue;
        try {
          found.push(turnedSize({ right, down, left, below }, repeat));
          break;
        } catch {
          // Not at right angles; the next one may be.
        }
      }
    }
  const area = ({ repeat }: TurnedSize) => repeat.width * repeat.height;
  return found.toSorted((a, b) => area(a) - area(b) || a.angle - b.angle);
}

const gcd = (a: number, b: number): number => (b === 0 ? a : gcd(b, a % b));

/** What the samples of a map are. */
export type Samples = "srgb" | "data" | NormalDirection;

/** The longest side that a turned map may have. */
const MOST_TURNED_PX = 16384;

/**
 * A map after a turn, at its density. Quarter turns move samples and change none; other angles interpolate cubically,
 * colours in linear light. Normals are turned as vectors: light from one side still falls from there.
 * @throws {Refusal} where the map would be larger than {@link MOST_TURNED_PX}
 */
export function turned(raster: Raster, turn: Turn, repeat: Repeat, samples: Samples): Raster {
  const { repeat: after, angle } = turnedSize(turn, repeat);
  const { width, height, channels, data } = raster;
  const exact = angle % 90 === 0;
  const density = Math.sqrt((width * height) / (repeat.width * repeat.height));
  const [newWidth, newHeight] = exact
    ? angle % 180 === 0
      ? [width, height]
      : [height, width]
    : [Math.round(after.width * density), Math.round(after.height * density)];
  if (Math.max(newWidth, newHeight) > MOST_TURNED_PX)
    throw new Refusal(
      `The turned image would be ${newWidth} × ${newHeight} px; the longest side may be ${MOST_TURNED_PX}.`,
    );
  const out = createRaster(newWidth, newHeight, channels, raster.bitDepth);
  const max = maxValue(raster);
  const light = samples === "srgb" ? linearTable(raster.bitDepth) : undefined;
  const value = new Float64Array(channels);
  const isNormal = samples === "+Y" || samples === "-Y";
  const radians = (angle * Math.PI) / 180;
  const [cos, sin] = exact
    ? [Math.round(Math.cos(radians)), Math.round(Math.sin(radians))]
    : [Math.cos(radians), Math.sin(radians)];
  for (let y = 0; y < newHeight; y++)
    for (let x = 0; x < newWidth; x++) {
      const [s, t] = [(x + 0.5) / newWidth, (y + 0.5) / newHeight];
      const u = (s * turn.right - t * turn.left) * width - 0.5;
      const v = (s * turn.down + t * turn.below) * height - 0.5;
      const o = (y * newWidth + x) * channels;
      if (exact) {
        const i = (wrap(Math.round(v), height) * width + wrap(Math.round(u), width)) * channels;
        for (let c = 0; c < channels; c++) value[c] = data[i + c];
      } else cubic(raster, light, u, v, value);
      if (isNormal && channels >= 3) turnVector(value, samples === "-Y" ? -1 : 1, cos, sin, max, !exact);
      for (let c = 0; c < channels; c++) {
        const encoded =
          light && !exact && c < 3 ? max * linearToSrgb(Math.min(1, Math.max(0, value[c]))) : value[c];
        out.data[o + c] = Math.min(max, Math.max(0, Math.round(encoded)));
      }
    }
  return out;
}

/**
 * As the picture turns, so does what it says of the surface: (x, y) → (x cos − y sin, x sin + y cos), y up. What was
 * interpolated is brought back to unit length.
 */
function turnVector(
  value: Float64Array,
  green: 1 | -1,
  cos: number,
  sin: number,
  max: number,
  interpolated: boolean,
): void {
  const [x, y, z] = [0, 1, 2].map((c) => (2 * value[c]) / max - 1);
  const length = interpolated ? Math.hypot(x, y, z) || 1 : 1;
  const encoded = (v: number) => ((v / length + 1) / 2) * max;
  value[0] = encoded(x * cos - green * y * sin);
  value[1] = encoded(green * (x * sin + green * y * cos));
  value[2] = encoded(z);
}

/** Over the image as it repeats. */
function cubic(
  raster: Raster,
  light: Float32Array | undefined,
  u: number,
  v: number,
  value: Float64Array,
): void {
  const { width, height, channels, data } = raster;
  const [u0, v0] = [Math.floor(u), Math.floor(v)];
  const [wu, wv] = [catmullRom(u - u0), catmullRom(v - v0)];
  value.fill(0);
  for (let j = 0; j < 4; j++)
    for (let i = 0; i < 4; i++) {
      const at = (wrap(v0 + j - 1, height) * width + wrap(u0 + i - 1, width)) * channels;
      const weight = wu[i] * wv[j];
      for (let c = 0; c < channels; c++)
        value[c] += weight * (light && c < 3 ? light[data[at + c]] : data[at + c]);
    }
}

const wrap = (value: number, by: number) => ((value % by) + by) % by;
