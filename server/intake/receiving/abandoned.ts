import { readdir, rm } from "node:fs/promises";
import { join } from "node:path";
import { database, inTransaction } from "#server/db/database";
import { endIdle, receivingOf } from "#server/intake/receiving/sql";
import { forgetDeadLocks } from "#server/intake/receiving/uploadLocks";
import { announce } from "#server/events/events";
import { Problem } from "#server/problem";
import { settings } from "#server/settings";

/** Intakes that one person may have begun and not completed. */
const MOST_BEGUN = 20;
/** Where that many are begun, those that nothing has come for in this time are given up. */
const IDLE_HOURS = 1;
/** After this they are given up in any case. */
const ABANDONED_HOURS = 24;

/** Room for one more intake of somebody's: what they have left lying is given up. @throws {Problem} 429 where all of it is under way */
export async function makeRoomToBegin(person: string): Promise<void> {
  if ((await receivingOf(database(), person)) < MOST_BEGUN) return;
  await endAbandoned(IDLE_HOURS, person);
  if ((await receivingOf(database(), person)) >= MOST_BEGUN)
    throw new Problem(
      429,
      "Too many begun",
      `You have begun ${MOST_BEGUN} intakes and completed none of them. Complete them first, or leave them for an hour.`,
    );
}

/** Gives up intakes that were begun and that nothing has come for in hours, and takes away what is left of their uploads. */
export async function endAbandoned(hours = ABANDONED_HOURS, person?: string): Promise<void> {
  await forgetDeadLocks(database());
  const ended = await inTransaction(async (db) => {
    const ids = await endIdle(db, hours, person ?? null);
    for (const id of ids) await announce(db, { topic: "intake", id, state: "failed" });
    return ids;
  });
  if (ended.length === 0) return;
  const folder = uploadsFolder();
  for (const name of await readdir(folder).catch(() => [] as string[]))
    if (ended.some((id) => name.startsWith(id))) await rm(join(folder, name), { force: true });
}

/** Where uploads lie until they are whole. */
export const uploadsFolder = () => join(settings().dataFolder, "incoming", "uploads");
