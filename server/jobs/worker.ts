import { EventEmitter } from "node:events";
import { constants, setPriority } from "node:os";
import { Logger, makeWorkerUtils, run, type Runner, type TaskList, type WorkerEvents } from "graphile-worker";
import { z } from "zod";
import { closeDatabase, database } from "#server/db/database";
import { setIntakeState } from "#server/db/intakes";
import { failDelivery, runDelivery } from "#server/delivery/run";
import { announce } from "#server/events/events";
import { closePixelPool } from "#server/images/pixelPool";
import { lookIntoDropFolder, type Seen } from "#server/intake/dropFolder";
import { readIntake } from "#server/intake/read";
import { settings } from "#server/settings";
import { failMend, runMend } from "#server/library/mend";
import { DISK_FULL, isDiskFull } from "#server/ownFault";

/** How often a worker says that it lives, and after how long its silence means that it died. */
const HEARTBEAT_MS = 5_000;
/** What looks the same at two looks has stopped growing. */
const DROP_LOOK_MS = 8_000;
const DEAD_AFTER = "20 seconds";

type Helpers = { job: { attempts: number; max_attempts: number } };

const isLast = ({ job }: Helpers) => job.attempts >= job.max_attempts;

const tasks: TaskList = {
  "read-intake": async (payload, helpers) => {
    const { intake } = z.object({ intake: z.string() }).parse(payload);
    try {
      await readIntake(intake);
    } catch (error) {
      const full = isDiskFull(error);
      if (full || isLast(helpers)) {
        const reason = full ? DISK_FULL : `The reading failed: ${(error as Error).message}`;
        await setIntakeState(database(), intake, "failed", reason);
        await announce(database(), { topic: "intake", id: intake, state: "failed" });
      }
      if (!full) throw error;
    }
  },
  "mend-material": async (payload, helpers) => {
    const { mend } = z.object({ mend: z.string() }).parse(payload);
    try {
      await runMend(mend);
    } catch (error) {
      // Maps that do not fit will not fit the next time either.
      const hopeless = error instanceof RangeError || (error as Error).name === "RangeError";
      if (hopeless || isLast(helpers)) await failMend(mend, (error as Error).message);
      if (!hopeless) throw error;
    }
  },
  "run-delivery": async (payload, helpers) => {
    const { delivery } = z.object({ delivery: z.string() }).parse(payload);
    try {
      await runDelivery(delivery);
    } catch (error) {
      if (isLast(helpers)) await failDelivery(delivery, (error as Error).message);
      throw error;
    }
  },
};

/** The worker process: takes jobs until it is told to stop, and takes over those of workers that died. */
async function main(): Promise<void> {
  // People at their screens come first; threads that are started later inherit it.
  setPriority(constants.priority.PRIORITY_BELOW_NORMAL);
  const events: WorkerEvents = new EventEmitter();
  const pools = new Set<string>();
  events.on("pool:create", ({ workerPool }) => pools.add(workerPool.id));
  const runner = await run({
    pgPool: database(),
    logger: new Logger(() => (level, message) => {
      if (["error", "warning"].includes(level)) console.error(message);
    }),
    taskList: tasks,
    concurrency: 2,
    pollInterval: 1000,
    noHandleSignals: true,
    events,
  });
  await keepAlive([...pools]);
  const timer = setInterval(() => {
    keepAlive([...pools]).catch((error: Error) => console.error(`heartbeat: ${error.message}`));
  }, HEARTBEAT_MS);
  const drops = watchDropFolder();
  for (const signal of ["SIGINT", "SIGTERM"] as const)
    process.once(signal, () => {
      clearInterval(drops);
      void stop(runner, timer, [...pools]);
    });
  console.log("The worker is ready.");
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
      .catch((error: Error) => console.error(`drop folder: ${error.message}`))
      .finally(() => (looking = false));
  }, DROP_LOOK_MS);
}

async function stop(runner: Runner, timer: NodeJS.Timeout, pools: string[]): Promise<void> {
  clearInterval(timer);
  await runner.stop().catch(() => undefined);
  await database().query("DELETE FROM workers WHERE id = ANY($1)", [pools]);
  await closePixelPool();
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
  const held = await database().query<{ locked_by: string }>(
    "SELECT DISTINCT locked_by FROM graphile_worker.jobs WHERE locked_by IS NOT NULL AND locked_by NOT IN (SELECT id FROM workers)",
  );
  if (held.rows.length === 0) return;
  const utils = await makeWorkerUtils({ pgPool: database() });
  try {
    await utils.forceUnlockWorkers(held.rows.map((row) => row.locked_by));
  } finally {
    await utils.release();
  }
}

await main();
