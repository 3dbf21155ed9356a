import { allCandidates } from "#core/gauge/counting/allCandidates";
import type { Candidate } from "#core/gauge/counting/candidate";
import { copiesIn, type CopySigns } from "#core/gauge/counting/copies";
import { evidenceOf } from "#core/gauge/counting/evidence";
import { resample, type Plane } from "#core/raster/plane";

/**
 * All that a picture may hold, and how often it holds itself. Where it does, one copy is read as well, and what it holds is multiplied.
 * @param originals maps that lie over each other, of one size
 */
export function readPicture(originals: Plane[]): {
  candidates: Candidate[];
  copies: CopySigns;
} {
  const planes = originals.map(reducedOnce);
  const copies = copiesIn(planes[0]);
  const whole = allCandidates(evidenceOf(planes), copies);
  if (copies.across * copies.down === 1) return { candidates: whole, copies };
  const once = planes.map((plane) => firstCopy(plane, copies));
  const within = allCandidates(evidenceOf(once), copiesIn(once[0])).map(
    ({ across, down, signs, ...rest }): Candidate => ({
      ...rest,
      ...(across !== undefined && { across: across * copies.across }),
      ...(down !== undefined && { down: down * copies.down }),
      signs: { ...signs, within: 1 },
    }),
  );
  // A joint between two copies is seen in the whole picture only.
  return { candidates: [...whole, ...within], copies };
}

/** Enough for all that is looked at, which is smaller still: a large picture is gone through once. */
const MOST_SIDE = 1024;

function reducedOnce(plane: Plane): Plane {
  const by = Math.max(1, plane.width / MOST_SIDE, plane.height / MOST_SIDE);
  return resample(plane, Math.round(plane.width / by), Math.round(plane.height / by));
}

function firstCopy({ width, height, data }: Plane, copies: CopySigns): Plane {
  const [w, h] = [Math.round(width / copies.across), Math.round(height / copies.down)];
  const out = new Float32Array(w * h);
  for (let y = 0; y < h; y++) out.set(data.subarray(y * width, y * width + w), y * w);
  return { width: w, height: h, data: out };
}
