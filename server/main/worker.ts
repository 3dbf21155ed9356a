import { randomUUID } from "node:crypto";
import { EventEmitter } from "node:events";
import { constants, setPriority } from "node:os";
import { Logger, run, type Runner, type TaskList, type WorkerEvents } from "graphile-worker";
import { closeDatabase, database, onceDatabaseAnswers } from "#server/db/database";
import { giveUpJob, tasks } from "#server/main/tasks";
import { guardProcess } from "#server/guardProcess";
import { URGENCY, type Jobs } from "#server/jobs/queue";
import { noteJobTime } from "#server/jobs/queries";
import { closePool, poolState } from "#server/pool/pool";
import { endAbandoned } from "#server/intake/receiving/abandoned";
import { lookIntoDropFolder, type Seen } from "#server/intake/receiving/dropFolder";
import { askToReadAnew } from "#server/images/readAnew";
import { log } from "#server/log";
import { settings } from "#server/settings";

/** How often a worker says that it lives, and after how long its silence means that it died. */
const HEARTBEAT_MS = 5_000;
/** What looks the same at two looks has stopped growing. */
const DROP_LOOK_MS = 8_000;
const TIDY_MS = 15 * 60_000;
const DEAD_AFTER = "20 seconds";

const OWN_ID = randomUUID();

/** Jobs of this process that are worked on, so that what it holds besides can be told. */
const active = new Set<string>();
/** A job that is held and not worked on was lost between being done and being struck off. */
const LOST_AFTER = "30 seconds";

/** The worker process: takes jobs until it is told to stop, and takes over those of workers that died. */
async function main(): Promise<void> {
  // People at their screens come first; processes that are started later inherit it.
  setPriority(constants.priority.PRIORITY_BELOW_NORMAL);
  guardProcess.install();
  const pools = new Set<string>();
  const events = listenToJobs(pools);
  let stopping = false;
  let runners = await onceDatabaseAnswers(() => takeJobs(events));
  await onceDatabaseAnswers(() => keepAlive([...pools]));
  await onceDatabaseAnswers(() => askToReadAnew(database()));
  const timer = setInterval(() => {
    keepAlive([...pools]).catch((error: Error) => log.warn({ err: error }, "heartbeat"));
  }, HEARTBEAT_MS);
  const drops = watchDropFolder();
  const tidy = setInterval(() => {
    endAbandoned().catch((error: Error) => log.warn({ err: error }, "intakes that were left lying"));
  }, TIDY_MS);
  for (const signal of ["SIGINT", "SIGTERM"] as const)
    process.once(signal, () => {
      stopping = true;
      clearInterval(drops);
      clearInterval(tidy);
      stop(runners, timer, [...pools]).catch(() => process.exit(1));
    });
  log.info("The worker is ready.");
  while (!stopping) {
    await Promise.race(runners.map(({ promise }) => promise)).catch((error: Error) =>
      log.warn({ err: error }, "the queue ended, and is begun anew"),
    );
    if (stopping) return;
    await end(runners);
    pools.clear();
    runners = await onceDatabaseAnswers(() => takeJobs(events));
  }
}

/** How many batches are worked on at a time: as many as there are processes for pixels, and no fewer than two. */
const lanes = () => Math.max(2, settings().threads);

/** One that takes everything, and one that only takes what somebody waits for: batches never hold both. */
async function takeJobs(events: WorkerEvents): Promise<Runner[]> {
  const atScreens = Object.entries(tasks).filter(([kind]) => URGENCY[kind as keyof Jobs] === "screen");
  const all = await takeSome(tasks as TaskList, lanes(), events);
  try {
    return [all, await takeSome(Object.fromEntries(atScreens) as TaskList, 1, events)];
  } catch (error) {
    await end([all]);
    throw error;
  }
}

function takeSome(taskList: TaskList, concurrency: number, events: WorkerEvents): Promise<Runner> {
  return run({
    pgPool: database(),
    logger: new Logger(() => (level, message) => {
      if (level === "error" || level === "warning") log[level === "error" ? "error" : "warn"](message);
    }),
    taskList,
    concurrency,
    pollInterval: 1000,
    noHandleSignals: true,
    events,
  });
}

/** One that has ended by itself errs here, and has nothing left to end. */
async function end(runners: Runner[]): Promise<void> {
  await Promise.all(runners.map((runner) => runner.stop().catch(() => undefined)));
}

/** One line for each job: what, how long, and why it failed. */
function listenToJobs(pools: Set<string>): WorkerEvents {
  const events: WorkerEvents = new EventEmitter();
  events.on("pool:create", ({ workerPool }) => pools.add(workerPool.id));
  events.on("job:start", ({ job }) => active.add(String(job.id)));
  events.on("job:complete", ({ job, error }) => {
    active.delete(String(job.id));
    const ms = Date.now() - new Date(job.locked_at ?? job.run_at).getTime();
    const { request } = job.payload as { request?: string };
    const line = { job: job.task_identifier, id: job.id, key: job.key, attempt: job.attempts, ms, request };
    if (error) log.error({ ...line, err: error }, "job failed");
    else log.info(line, "job done");
    const time = { kind: job.task_identifier, seconds: ms / 1000, failed: error !== null };
    noteJobTime(database(), time).catch((failed: Error) => log.warn({ err: failed }, "time of a job"));
  });
  return events;
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
      .catch((error: Error) => log.error({ err: error }, "drop folder"))
      .finally(() => (looking = false));
  }, DROP_LOOK_MS);
}

async function stop(runners: Runner[], timer: NodeJS.Timeout, pools: string[]): Promise<void> {
  clearInterval(timer);
  await end(runners);
  await database()
    .query("DELETE FROM workers WHERE id = ANY($1)", [pools])
    .catch(() => undefined);
  await closePool();
  await closeDatabase();
  process.exit(0);
}

/** Says that this worker lives, and frees the jobs that silent ones hold. */
async function keepAlive(pools: string[]): Promise<void> {
  await database().query(
    `INSERT INTO workers (id, process, pool_busy, pool_waiting, lanes) SELECT unnest($1::text[]), $4, $2, $3, $5
     ON CONFLICT (id) DO UPDATE SET seen_at = now(), pool_busy = excluded.pool_busy, pool_waiting = excluded.pool_waiting`,
    [pools, poolState().busy, poolState().waiting, OWN_ID, lanes()],
  );
  await database().query(
    `UPDATE graphile_worker._private_jobs SET locked_at = NULL, locked_by = NULL, attempts = greatest(0, attempts - 1)
      WHERE locked_by = ANY($1) AND NOT id = ANY($2::bigint[]) AND locked_at < now() - interval '${LOST_AFTER}'`,
    [pools, [...active]],
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
  // Several lanes of one intake are given up once: it may be read again from that moment on.
  for (const subject of new Set(hopeless.map(subjectOf))) {
    const jobs = hopeless.filter((job) => subjectOf(job) === subject);
    await giveUpJob(jobs[0].kind, jobs[0].payload, BROKEN_OFF);
    await database().query("DELETE FROM graphile_worker._private_jobs WHERE id = ANY($1::bigint[])", [
      jobs.map(({ id }) => id),
    ]);
  }
  await database().query(
    "DELETE FROM job_breaks WHERE job NOT IN (SELECT id FROM graphile_worker._private_jobs)",
  );
}

/** What a job is about, whichever lane and request it is of. */
const subjectOf = ({ kind, payload }: { kind: string; payload: unknown }): string =>
  JSON.stringify({ ...(payload as object), kind, lane: undefined, request: undefined });

await main();
