import { randomUUID } from "node:crypto";
import { setTimeout as wait } from "node:timers/promises";
import type { Locker } from "@tus/server";
import { database, type Db } from "#server/db/database";
import { log } from "#server/log";

const BEAT_MS = 5_000;
/** A holder that has been silent for so long has died. */
const DEAD_AFTER = "15 seconds";
const TRY_EVERY_MS = 500;

/** Locks of uploads that hold for all web processes together, in the database; they end with the process that holds them. */
export const uploadLocks: Locker = {
  newLock(id) {
    const owner = randomUUID();
    let beat: NodeJS.Timeout | undefined;
    return {
      async lock(signal, cancelled) {
        while (!(await take(id, owner))) {
          await database().query("UPDATE upload_locks SET wanted = true WHERE id = $1", [id]);
          await wait(TRY_EVERY_MS, undefined, { signal });
        }
        beat = setInterval(() => {
          stillWanted(id, owner)
            .then((wanted) => wanted && cancelled())
            .catch((error: Error) => log.warn({ err: error }, "lock of an upload"));
        }, BEAT_MS / 5).unref();
      },
      async unlock() {
        clearInterval(beat);
        await database().query("DELETE FROM upload_locks WHERE id = $1 AND owner = $2", [id, owner]);
      },
    };
  },
};

/** Takes away what holders that died long ago have left behind. */
export async function forgetDeadLocks(db: Db): Promise<void> {
  await db.query("DELETE FROM upload_locks WHERE seen_at < now() - interval '1 day'");
}

async function take(id: string, owner: string): Promise<boolean> {
  const { rowCount } = await database().query(
    `INSERT INTO upload_locks (id, owner) VALUES ($1, $2)
     ON CONFLICT (id) DO UPDATE SET owner = excluded.owner, seen_at = now(), wanted = false
       WHERE upload_locks.seen_at < now() - interval '${DEAD_AFTER}'`,
    [id, owner],
  );
  return rowCount === 1;
}

/** Says that the holder lives, and hears whether somebody waits for it. */
async function stillWanted(id: string, owner: string): Promise<boolean> {
  const { rows } = await database().query<{ wanted: boolean }>(
    "UPDATE upload_locks SET seen_at = now() WHERE id = $1 AND owner = $2 RETURNING wanted",
    [id, owner],
  );
  return rows[0]?.wanted ?? true;
}
