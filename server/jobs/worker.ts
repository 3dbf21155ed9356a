import { EventEmitter } from "node:events";
import { constants, setPriority } from "node:os";
import { Logger, run, type Runner, type TaskList, type WorkerEvents } from "graphile-worker";
import { closeDatabase, database } from "#server/db/database";
import { giveUpJob, tasks } from "#server/jobs/tasks";
import { closePool } from "#server/pool/pool";
import { lookIntoDropFolder, type Seen } from "#server/intake/dropFolder";
import { log } from "#server/log";
import { settings } from "#server/settings";

/** How often a worker says that it lives, and after how long its silence means that it died. */
const HEARTBEAT_MS = 5_000;
/** What looks the same at two looks has stopped growing. */
const DROP_LOOK_MS = 8_000;
const DEAD_AFTER = "20 seconds";

/** The worker process: takes jobs until it is told to stop, and takes over those of workers that died. */
async function main(): Promise<void> {
  // People at their screens come first; threads that are started later inherit it.
  setPriority(constants.priority.PRIORITY_BELOW_NORMAL);
  const events: WorkerEvents = new EventEmitter();
  const pools = new Set<string>();
  // One line for each job: what, how long, and why it failed.
  events.on("job:complete", ({ job, error }) => {
    const ms = Date.now() - new Date(job.locked_at ?? job.run_at).getTime();
    const line = { job: job.task_identifier, id: job.id, key: job.key, attempt: job.attempts, ms };
    if (error) log.error({ ...line, err: error }, "job failed");
    else log.info(line, "job done");
  });
  events.on("pool:create", ({ workerPool }) => pools.add(workerPool.id));
  const runner = await run({
    pgPool: database(),
    logger: new Logger(() => (level, message) => {
      if (level === "error" || level === "warning") log[level === "error" ? "error" : "warn"](message);
    }),
    taskList: tasks as TaskList,
    concurrency: 2,
    pollInterval: 1000,
    noHandleSignals: true,
    events,
  });
  await keepAlive([...pools]);
  const timer = setInterval(() => {
    keepAlive([...pools]).catch((error: Error) => log.error(error, "heartbeat"));
  }, HEARTBEAT_MS);
  const drops = watchDropFolder();
  for (const signal of ["SIGINT", "SIGTERM"] as const)
    process.once(signal, () => {
      clearInterval(drops);
      void stop(runner, timer, [...pools]);
    });
  log.info("The worker is ready.");
  await runner.promise;
}

/** Looks into the drop folder again and again; one look at a time. */
function watchDropFolder(): NodeJS.Timeout {
  let seen: Seen = new Map();
  let looking = false;
  return setInterval(() => {
    if (looking) return;
    looking = true;
    lookIntoDropFolder(settings().dropFolder, seen)
      .then((now) => (seen = now))
      .catch((error: Error) => log.error(error, "drop folder"))
      .finally(() => (looking = false));
  }, DROP_LOOK_MS);
}

async function stop(runner: Runner, timer: NodeJS.Timeout, pools: string[]): Promise<void> {
  clearInterval(timer);
  await runner.stop().catch(() => undefined);
  await database().query("DELETE FROM workers WHERE id = ANY($1)", [pools]);
  await closePool();
  await closeDatabase();
  process.exit(0);
}

/** Says that this worker lives, and frees the jobs that silent ones hold. */
async function keepAlive(pools: string[]): Promise<void> {
  await database().query(
    "INSERT INTO workers (id) SELECT unnest($1::text[]) ON CONFLICT (id) DO UPDATE SET seen_at = now()",
    [pools],
  );
  await database().query(`DELETE FROM workers WHERE seen_at < now() - interval '${DEAD_AFTER}'`);
  await takeOver();
}

/** A job that was broken off so often together with its worker may be what kills it. */
const MOST_BREAKS = 8;
const BROKEN_OFF = "it was broken off again and again, with the worker that did it";

/**
 * Frees the jobs of workers that died: the attempt does not count, unless it happens again and again. A job that is given up
 * stays held until its subject says so.
 */
async function takeOver(): Promise<void> {
  const { rows: hopeless } = await database().query<{ id: string; kind: string; payload: unknown }>(
    `WITH held AS (
       SELECT id, task_id, payload FROM graphile_worker._private_jobs
        WHERE locked_by IS NOT NULL AND locked_by NOT IN (SELECT id FROM workers) FOR UPDATE SKIP LOCKED
     ), counted AS (
       INSERT INTO job_breaks (job, times) SELECT id, 1 FROM held
         ON CONFLICT (job) DO UPDATE SET times = job_breaks.times + 1 RETURNING job, times
     ), freed AS (
       UPDATE graphile_worker._private_jobs SET locked_at = NULL, locked_by = NULL, attempts = greatest(0, attempts - 1)
         FROM counted WHERE job = id AND times < $1
     )
     SELECT held.id::text, identifier AS kind, payload
       FROM held JOIN counted ON job = held.id JOIN graphile_worker._private_tasks AS tasks ON tasks.id = task_id
      WHERE times >= $1`,
    [MOST_BREAKS],
  );
  for (const { id, kind, payload } of hopeless) {
    await giveUpJob(kind, payload, BROKEN_OFF);
    await database().query("DELETE FROM graphile_worker._private_jobs WHERE id = $1", [id]);
  }
  await database().query(
    "DELETE FROM job_breaks WHERE job NOT IN (SELECT id FROM graphile_worker._private_jobs)",
  );
}

await main();
