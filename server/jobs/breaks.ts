import { z } from "zod";
import { database, inTransaction, oneRow, rows, type Db } from "#server/db/database";

/** A job that was broken off so often together with its worker may be what kills it. */
const MOST_BREAKS = 8;

/** Any number that nobody else locks by. */
const TAKING_OVER = 4_711_001;

const heldSchema = z.object({ id: z.string(), attempts: z.number(), locked_by: z.string() });

/**
 * Frees the jobs of workers that have died, and counts that they were broken off; that attempt does not count. Of several
 * that want to do it, one does.
 */
export function takeOverJobs(): Promise<void> {
  return inTransaction(async (db) => {
    const lock = await oneRow(
      db,
      z.object({ mine: z.boolean() }),
      "SELECT pg_try_advisory_xact_lock($1) AS mine",
      [TAKING_OVER],
    );
    if (!lock?.mine) return;
    const held = await rows(
      db,
      heldSchema,
      `SELECT id::text, attempts, locked_by FROM graphile_worker.jobs
        WHERE locked_by IS NOT NULL AND locked_by NOT IN (SELECT id FROM workers)`,
    );
    if (held.length > 0) {
      const ids = held.map(({ id }) => id);
      await db.query(
        `INSERT INTO job_breaks (job, times) SELECT unnest($1::bigint[]), 1
         ON CONFLICT (job) DO UPDATE SET times = job_breaks.times + 1`,
        [ids],
      );
      await db.query("SELECT graphile_worker.force_unlock_workers($1)", [
        [...new Set(held.map(({ locked_by }) => locked_by))],
      ]);
      await db.query(
        `SELECT count(*) FROM (
           SELECT attempts, array_agg(id) AS ids FROM unnest($1::bigint[], $2::int[]) AS held (id, attempts) GROUP BY attempts
         ) AS alike, graphile_worker.reschedule_jobs(ids, attempts := greatest(0, alike.attempts - 1))`,
        [ids, held.map(({ attempts }) => attempts)],
      );
    }
    await db.query("DELETE FROM job_breaks WHERE job NOT IN (SELECT id FROM graphile_worker.jobs)");
  });
}

async function isPoison(db: Db, job: string): Promise<boolean> {
  const row = await oneRow(
    db,
    z.object({ times: z.number() }),
    "SELECT times FROM job_breaks WHERE job = $1::bigint",
    [job],
  );
  return (row?.times ?? 0) >= MOST_BREAKS;
}

/**
 * Gives a job up that was broken off so often that nobody should begin it again. Of several lanes of one subject one does, and
 * forgets it for all of them: it may be asked for again from then on, and no lane that comes late ends that.
 * @param key what the keys of all jobs of the subject begin with
 * @returns whether it was given up
 */
export async function givenUp(job: string, key: string, giveUp: () => Promise<void>): Promise<boolean> {
  if (!(await isPoison(database(), job))) return false;
  return inTransaction(async (db) => {
    await db.query("SELECT pg_advisory_xact_lock($1, hashtext($2))", [TAKING_OVER, key]);
    if (!(await isPoison(db, job))) return false;
    await giveUp();
    await db.query(
      "DELETE FROM job_breaks WHERE job = $1::bigint OR job IN (SELECT id FROM graphile_worker.jobs WHERE starts_with(key, $2))",
      [job, key],
    );
    return true;
  });
}

/** Whether workers hold a job that they do not work on: it was lost between being done and being struck off. */
export async function holdLostJobs(db: Db, workers: string[], active: string[]): Promise<boolean> {
  const row = await oneRow(
    db,
    z.object({ lost: z.boolean() }),
    `SELECT EXISTS (SELECT 1 FROM graphile_worker.jobs
       WHERE locked_by = ANY($1) AND NOT id = ANY($2::bigint[]) AND locked_at < now() - interval '30 seconds') AS lost`,
    [workers, active],
  );
  return row!.lost;
}
