import type { PlannedCandidate } from "#core/candidates/candidate";
import { type Finding, finding } from "#core/findings/finding";
import { database } from "#server/db/database";
import {
  findLikeImages,
  findNearImages,
  materialsLike,
  materialsMadeFrom,
  materialsOfImage,
} from "#server/likeness/queries";
import { insertLikenesses } from "#server/likeness/writes";
import { log } from "#server/log";
import { isOwnFault } from "#server/ownFault";
import { pool } from "#server/pool/pool";
import type { Compared } from "#server/pool/poolTasks";
import { withLocalSmalls, withSmall } from "#server/images/studyFile";

/** So many that it is like are named one by one. */
const NAMED = 4;

/**
 * Looks for the same picture in the library, however it was encoded, tinted, turned, mirrored or shifted, and for what it was cropped
 * from or mended into, and says what was found.
 */
export async function judgeLikeness(candidate: Pick<PlannedCandidate, "maps">): Promise<Finding[]> {
  const base = candidate.maps.find(({ role, channel }) => role === "base_color" && channel === "color");
  if (!base) return [];
  const db = database();
  const { sha256 } = base;
  const [own] = await withSmalls([sha256]);
  if (own) {
    const whole = await withSmalls(await findLikeImages(db, sha256));
    const near = await withSmalls(await findNearImages(db, sha256));
    const all = [own, ...whole, ...near].map(({ sha256 }) => sha256);
    const found = await withLocalSmalls(all, (smallOf) => {
      const local = (one: Studied) => ({ ...one, small: smallOf(one.sha256) });
      return pool.compare({ own: local(own), whole: whole.map(local), near: near.map(local) });
    });
    await insertLikenesses(db, sha256, found);
  }
  const like = (await materialsLike(db, sha256)).filter(({ decision }) => decision !== "different");
  return [
    ...(await materialsOfImage(db, sha256)).map(({ name }) =>
      finding("same-file", { material: name, isMadeFrom: false }, base.file),
    ),
    ...(await materialsMadeFrom(db, sha256)).map(({ name }) =>
      finding("same-file", { material: name, isMadeFrom: true }, base.file),
    ),
    ...like
      .slice(0, NAMED)
      .map(({ name, likeness, isFirst }) =>
        finding("same-picture", { material: name, likeness, isFirst }, base.file),
      ),
    ...(like.length > NAMED ? [finding("more-alike", { count: like.length - NAMED }, base.file)] : []),
  ];
}

type Studied = Omit<Compared, "small">;

/** One whose file cannot be read any more is left out. */
async function withSmalls(hashes: string[]): Promise<Studied[]> {
  const found: Studied[] = [];
  for (const sha256 of hashes)
    try {
      found.push(await withSmall(sha256));
    } catch (error) {
      if (isOwnFault(error)) throw error;
      log.warn({ err: error, sha256 }, "a picture that cannot be read any more is compared with none");
    }
  return found;
}
