import pMap from "p-map";
import { z } from "zod";
import type { Person } from "#server/auth/person";
import { database, inTransaction, oneRow, rows, type Db } from "#server/db/database";
import { announce, paced } from "#server/events/events";
import { addJob } from "#server/jobs/queue";
import { conflict } from "#server/problem";
import { fileStore } from "#server/store/store";
import { newestLook } from "#server/tidy/queries";

/** Has all originals looked for, one look at a time. @returns its id. @throws {Problem} while another one goes on */
export function startLook(person: Person): Promise<string> {
  return inTransaction(async (db) => {
    await db.query("SELECT pg_advisory_xact_lock(hashtext('look for originals'))");
    const going = await newestLook(db);
    if (going && going.doneAt === null && going.failure === null)
      throw conflict(`They are being looked for already, for ${going.madeBy}.`);
    const made = await oneRow(
      db,
      z.object({ id: z.string() }),
      `INSERT INTO original_looks (made_by, total) VALUES ($1, (SELECT count(DISTINCT sha256) FROM maps)) RETURNING id`,
      [person.id],
    );
    await addJob(db, "look-for-originals", { look: made!.id });
    await announce(db, { topic: "upkeep", id: made!.id });
    return made!.id;
  });
}

const PAGE = 500;
/** The store is asked about so many at a time: each waits for a disk or a bucket. */
const AT_ONCE = 16;

/** Asks the store for every file that a map is of, and keeps which are gone. Run by the worker, and may be run again. */
export async function runLook(id: string): Promise<void> {
  const tell = paced(() => announce(database(), { topic: "upkeep", id }));
  let lookedAt = 0;
  for (let after = ""; ;) {
    const page = await rows(
      database(),
      z.object({ sha256: z.string() }),
      `SELECT DISTINCT sha256 FROM maps WHERE sha256 > $1 ORDER BY sha256 LIMIT ${PAGE}`,
      [after],
    );
    const gone = (
      await pMap(page, async ({ sha256 }) => ((await fileStore().has(sha256)) ? [] : [sha256]), {
        concurrency: AT_ONCE,
      })
    ).flat();
    lookedAt += page.length;
    await inTransaction((db) => notePage(db, id, { after, last: page.at(-1)?.sha256, gone, lookedAt }));
    await tell();
    if (page.length < PAGE) break;
    after = page.at(-1)!.sha256;
  }
  await inTransaction(async (db) => {
    await db.query("UPDATE original_looks SET done_at = now(), failure = NULL WHERE id = $1", [id]);
    await announce(db, { topic: "upkeep", id });
  });
}

/** What is there again is gone no more. */
async function notePage(
  db: Db,
  id: string,
  { after, last, gone, lookedAt }: { after: string; last?: string; gone: string[]; lookedAt: number },
): Promise<void> {
  await db.query(
    "DELETE FROM missing_originals WHERE sha256 > $1 AND ($2::text IS NULL OR sha256 <= $2) AND sha256 <> ALL ($3)",
    [after, last ?? null, gone],
  );
  await db.query("INSERT INTO missing_originals (sha256) SELECT unnest($1::text[]) ON CONFLICT DO NOTHING", [
    gone,
  ]);
  await db.query("UPDATE original_looks SET looked_at = $2, total = greatest(total, $2) WHERE id = $1", [
    id,
    lookedAt,
  ]);
}

export async function failLook(id: string, reason: string): Promise<void> {
  await database().query("UPDATE original_looks SET failure = $2 WHERE id = $1 AND done_at IS NULL", [
    id,
    reason,
  ]);
  await announce(database(), { topic: "upkeep", id });
}
