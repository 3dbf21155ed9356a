import { z } from "zod";
import { type Db, rows } from "#server/db/database";

/** The queue by kind of work. */
export const listQueue = (db: Db) =>
  rows(
    db,
    z.object({ kind: z.string(), waiting: z.number(), running: z.number(), failed: z.number() }),
    `SELECT task_identifier AS kind,
            count(*) FILTER (WHERE locked_at IS NULL AND attempts < max_attempts)::int AS waiting,
            count(*) FILTER (WHERE locked_at IS NOT NULL)::int AS running,
            count(*) FILTER (WHERE locked_at IS NULL AND attempts >= max_attempts)::int AS failed
       FROM graphile_worker.jobs GROUP BY task_identifier ORDER BY task_identifier`,
  );

export const listWorkers = (db: Db) =>
  rows(
    db,
    z.object({ id: z.string(), seen_at: z.date(), pool_busy: z.number(), pool_waiting: z.number() }),
    `SELECT COALESCE(process, id) AS id, max(seen_at) AS seen_at, max(pool_busy) AS pool_busy, max(pool_waiting) AS pool_waiting
       FROM workers GROUP BY COALESCE(process, id) ORDER BY 1`,
  );

/** How long the jobs took that ended within the last hour, by kind, in seconds. */
export const jobTimes = (db: Db) =>
  rows(
    db,
    z.object({ kind: z.string(), count: z.number(), mean: z.number(), longest: z.number() }),
    `SELECT kind, count(*)::int AS count, avg(seconds) AS mean, max(seconds) AS longest
       FROM job_times WHERE ended_at > now() - interval '1 hour' GROUP BY kind ORDER BY kind`,
  );

/** Keeps how long a job took. */
export async function noteJobTime(db: Db, job: { kind: string; seconds: number; failed: boolean }) {
  await db.query("INSERT INTO job_times (kind, seconds, failed) VALUES ($1, $2, $3)", [
    job.kind,
    job.seconds,
    job.failed,
  ]);
  await db.query("DELETE FROM job_times WHERE ended_at < now() - interval '1 day'");
}

const failureSchema = z.object({
  what: z.enum(["intake", "delivery", "mend", "flattening", "job"]),
  id: z.string(),
  /** What it is about, for the link: the intake, the delivery or the material. */
  subject: z.string(),
  at: z.date(),
  reason: z.string(),
});

export type Failure = z.infer<typeof failureSchema>;

const MOST_FAILURES = 30;

/** What failed, with the reason, newest first. */
export const listFailures = (db: Db) =>
  rows(
    db,
    failureSchema,
    `SELECT * FROM (
       SELECT 'intake' AS what, id::text, id::text AS subject, created_at AS at, failure AS reason
         FROM intakes WHERE failure IS NOT NULL
       UNION ALL
       SELECT 'delivery', id::text, id::text, created_at, failure FROM deliveries WHERE failure IS NOT NULL
       UNION ALL
       SELECT 'mend', id::text, material::text, ended_at, failure FROM mends WHERE failure IS NOT NULL
       UNION ALL
       SELECT 'flattening', id::text, photo::text, ended_at, failure FROM flattenings WHERE failure IS NOT NULL
       UNION ALL
       SELECT 'job', id::text, task_identifier, updated_at, split_part(last_error, E'\\n', 1)
         FROM graphile_worker.jobs WHERE last_error IS NOT NULL AND attempts > 0
     ) AS all_failures ORDER BY at DESC LIMIT ${MOST_FAILURES}`,
  );
