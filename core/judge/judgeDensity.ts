import { densityOf } from "#core/gauge/repeat";
import type { Repeat } from "#core/length/repeat";
import { DEFAULT_CAMERA, holdsUpFrom, PURPOSE_DISTANCE_M, type Purpose } from "#core/judge/holdsUp";
import type { Finding } from "#core/findings/finding";

/** A map that holds up from so many times the distance that is asked for is worth a look; from less, a remark. */
const FAR_TOO_FEW = 2;

/** Whether a map of a known or assumed size has pixels enough for a purpose; undefined where it has. */
export function judgeDensity(
  map: { file: string; width: number },
  repeat: Repeat,
  purpose: Purpose,
): Finding | undefined {
  const density = densityOf(map.width, repeat.width);
  const from = holdsUpFrom(DEFAULT_CAMERA, density);
  const asked = PURPOSE_DISTANCE_M[purpose];
  if (from <= asked) return undefined;
  const { widthPx, angleDegrees } = DEFAULT_CAMERA;
  return {
    level: from > FAR_TOO_FEW * asked ? "look" : "note",
    code: "few-pixels",
    message: `With ${Math.round(density)} px/m it holds up from ${from.toFixed(1)} m on, in a picture of ${widthPx} px and ${angleDegrees}°; for the purpose “${purpose}” it should from ${asked} m.`,
    file: map.file,
  };
}
