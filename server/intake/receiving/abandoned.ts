import { database, inTransaction } from "#server/db/database";
import { endIdle, receivingOf, stillReceiving } from "#server/intake/receiving/sql";
import { intakeOfUpload } from "#server/intake/receiving/uploadIds";
import { uploads } from "#server/intake/receiving/uploads";
import { forgetDeadLocks } from "#server/intake/receiving/uploadLocks";
import { announce } from "#server/events/events";
import { Problem } from "#server/problem";

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
  await inTransaction(async (db) => {
    for (const id of await endIdle(db, hours, person ?? null))
      await announce(db, { topic: "intake", id, state: "failed" });
  });
  const left = await uploads().ids();
  const receiving = await stillReceiving(
    database(),
    left.map(intakeOfUpload).filter((id) => id !== undefined),
  );
  for (const id of left) if (!receiving.has(intakeOfUpload(id) ?? "")) await uploads().drop(id);
}
