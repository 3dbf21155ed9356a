import { randomUUID } from "node:crypto";
import { EventEmitter } from "node:events";
import { constants, setPriority } from "node:os";
import { Logger, run, type Runner, type TaskList, type WorkerEvents } from "graphile-worker";
import { closeDatabase, database, onceDatabaseAnswers } from "#server/db/database";
import { tasks } from "#server/main/tasks";
import { guardProcess } from "#server/guardProcess";
import { URGENCY, type Jobs } from "#server/jobs/queue";
import { fillLater } from "#server/jobs/fillLater";
import { holdLostJobs, takeOverJobs } from "#server/jobs/breaks";
import { noteJobTime } from "#server/jobs/queries";
import { closePool, poolState } from "#server/pool/pool";
import { endAbandoned } from "#server/intake/receiving/abandoned";
import { lookIntoDropFolder, type Seen } from "#server/intake/receiving/dropFolder";
import { readForgotten } from "#server/intake/stages/lanes";
import { askToReadAnew } from "#server/images/readAnew";
import { askForFamilies } from "#server/material/families";
import { askToSeeColors } from "#server/material/seenColors";
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
  await onceDatabaseAnswers(() => askToSeeColors(database()));
  await onceDatabaseAnswers(() => askForFamilies(database()));
  await onceDatabaseAnswers(() => readForgotten(database()));
  const timer = setInterval(() => {
    beat([...pools], () => end(runners)).catch((error: Error) => log.warn({ err: error }, "heartbeat"));
  }, HEARTBEAT_MS);
  const drops = watchDropFolder();
  const tidy = setInterval(() => {
    endAbandoned().catch((error: Error) => log.warn({ err: error }, "intakes that were left lying"));
    readForgotten(database()).catch((error: Error) => log.warn({ err: error }, "intakes that nobody reads"));
    // What a search finds may change with the day alone: the newest, or licences that have ended.
    fillLater(database()).catch((error: Error) =>
      log.warn({ err: error }, "collections that fill themselves"),
    );
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
    // What they still hold is taken over: they live no more.
    await onceDatabaseAnswers(() => forgetWorkers([...pools]));
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
  await forgetWorkers(pools).catch(() => undefined);
  await closePool();
  await closeDatabase();
  process.exit(0);
}

async function forgetWorkers(pools: string[]): Promise<void> {
  await database().query("DELETE FROM workers WHERE id = ANY($1)", [pools]);
}

/** Says that this worker lives; where it holds what it does not work on, it begins anew. */
async function beat(pools: string[], beginAnew: () => Promise<void>): Promise<void> {
  await keepAlive(pools);
  if (await holdLostJobs(database(), pools, [...active])) await beginAnew();
}

/** Says that this worker lives, and frees the jobs that silent ones hold. */
async function keepAlive(pools: string[]): Promise<void> {
  await database().query(
    `INSERT INTO workers (id, process, pool_busy, pool_waiting, lanes) SELECT unnest($1::text[]), $4, $2, $3, $5
     ON CONFLICT (id) DO UPDATE SET seen_at = now(), pool_busy = excluded.pool_busy, pool_waiting = excluded.pool_waiting`,
    [pools, poolState().busy, poolState().waiting, OWN_ID, lanes()],
  );
  await database().query(`DELETE FROM workers WHERE seen_at < now() - interval '${DEAD_AFTER}'`);
  await takeOverJobs();
}

await main();
