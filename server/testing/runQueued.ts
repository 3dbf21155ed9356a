import { Logger, runOnce, type TaskList } from "graphile-worker";

/** Does all that waits in the queue, as the worker would. */
export async function runQueued(): Promise<void> {
  const { tasks } = await import("#server/main/tasks");
  const { database } = await import("#server/db/database");
  await runOnce({
    pgPool: database(),
    taskList: tasks as TaskList,
    noHandleSignals: true,
    logger: new Logger(() => () => undefined),
  });
}

/** The answer to something that waits for the worker, which works meanwhile. */
export async function whileQueued<T>(answer: Promise<T>): Promise<T> {
  let isThere = false;
  const settled = answer.finally(() => (isThere = true));
  // What it throws is thrown below.
  settled.catch(() => undefined);
  while (!isThere) {
    await runQueued();
    await new Promise((resolve) => setTimeout(resolve, 30));
  }
  return settled;
}
