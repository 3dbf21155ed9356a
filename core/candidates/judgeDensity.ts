import { type Finding, finding } from "#core/findings/finding";
import { densityOf } from "#core/gauge/repeat";
import { DEFAULT_CAMERA, holdsUpFrom, PURPOSE_DISTANCE_M, type Purpose } from "#core/judge/holdsUp";
import type { Repeat } from "#core/length/repeat";

/** Whether a map of a known or assumed size has pixels enough for a purpose; undefined where it has. */
export function judgeDensity(
  map: { file: string; width: number; height: number },
  repeat: Repeat,
  purpose: Purpose,
): Finding | undefined {
  const densityPxPerM = densityOf(map.width, repeat.width);
  const holdsUpFromM = holdsUpFrom(DEFAULT_CAMERA, densityPxPerM);
  if (holdsUpFromM <= PURPOSE_DISTANCE_M[purpose]) return undefined;
  const { width: widthPx, height: heightPx } = map;
  return finding("few-pixels", { widthPx, heightPx, purpose, densityPxPerM, holdsUpFromM }, map.file);
}
