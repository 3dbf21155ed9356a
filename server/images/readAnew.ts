import { database, type Db } from "#server/db/database";
import { imagesWithoutColors, imagesWithoutFigures, unreadImages } from "#server/images/queries";
import { insertSmallRead } from "#server/images/writes";
import { healPreviews } from "#server/images/healPreviews";
import { withLocalSmalls, withSmall } from "#server/images/studyFile";
import { addJob } from "#server/jobs/queue";
import { log } from "#server/log";
import { pool } from "#server/pool/pool";
import { isDatabaseAway, isDiskFull } from "#server/ownFault";

/** So many pictures are read by one job, so that others get their turn between. */
const AT_ONCE = 5;

/** Asks for pictures to be read anew where what is read of them has changed since; none there are no work. */
export async function askToReadAnew(db: Db): Promise<void> {
  const waiting = [
    ...(await unreadImages(db, "", 1)),
    ...(await imagesWithoutFigures(db, "", 1)),
    ...(await imagesWithoutColors(db, "", 1)),
  ];
  if (waiting.length > 0) await addJob(db, "read-anew", { after: "" });
}

/** Reads the next pictures anew, in the order of their hashes, and asks for the rest. One that cannot be read any more is left out. */
export async function readAnew(after: string): Promise<void> {
  const unread = await unreadImages(database(), after, AT_ONCE);
  const without = await imagesWithoutFigures(database(), after, AT_ONCE);
  const colorless = await imagesWithoutColors(database(), after, AT_ONCE);
  const hashes = [...new Set([...unread, ...without, ...colorless])].sort().slice(0, AT_ONCE);
  for (const sha256 of hashes)
    await (
      unread.includes(sha256)
        ? healPreviews(sha256, "color")
        : readSmallAnew(sha256, without.includes(sha256))
    ).catch((error: unknown) => {
      if (isDatabaseAway(error) || isDiskFull(error as Error)) throw error;
      log.warn({ err: error, sha256 }, "a picture that cannot be read anew is left out");
    });
  const last = hashes.at(-1);
  if (last !== undefined && hashes.length === AT_ONCE) await addJob(database(), "read-anew", { after: last });
}

/** From its reduction: the picture itself need not be decoded. */
async function readSmallAnew(sha256: string, isWithoutFigures: boolean): Promise<void> {
  await withSmall(sha256);
  const read = await withLocalSmalls([sha256], (smallOf) => pool.figures({ small: smallOf(sha256) }));
  await insertSmallRead(database(), sha256, { ...read, figures: isWithoutFigures ? read.figures : null });
}
