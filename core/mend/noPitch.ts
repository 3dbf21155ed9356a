import { findModules } from "#core/gauge/findModules";
import type { Pitches } from "#core/gauge/pitch/findPitches";
import { DIRECTION_WORDS } from "#core/judge/seams";
import { DIRECTIONS, type Direction } from "#core/raster/directions";
import type { Plane } from "#core/raster/plane";
import { Refusal } from "#core/text/refusal";

/**
 * Why a pattern cannot be cut where its pitch was not found; undefined where nothing repeats in that direction, as in a surface that a
 * cut can join anywhere. Mending and cropping say the same.
 */
export function patternWithoutPitch(
  plane: Plane,
  pitches: Pitches,
  direction: Direction,
): Refusal | undefined {
  const isPlain = DIRECTIONS.every((one) => pitches[one] === undefined);
  const { [direction]: count = 1 } = isPlain ? findModules([plane]) : {};
  if (count === 1 && pitches.hidden !== direction) return undefined;
  return new Refusal(
    `It looks like a pattern, but at which distance it repeats from ${DIRECTION_WORDS[direction]} was not found: a cut would break it. Mark whole repeats of it under Gauge, Flatten a photograph, or take a larger picture of the surface.`,
  );
}
