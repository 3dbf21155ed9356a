import type { Transferable } from "node:worker_threads";
import { Piscina } from "piscina";
import type * as tasks from "#server/images/pixelTasks";
import { settings } from "#server/settings";
import { log } from "#server/log";

type Tasks = Pick<
  typeof tasks,
  "study" | "preview" | "plan" | "compare" | "countModules" | "mend" | "makeMap" | "flattenPhoto" | "convert"
>;

let pool: Piscina | undefined;

function pixelPool(): Piscina {
  if (pool) return pool;
  pool = new Piscina({
    filename: new URL("./pixelThread.mjs", import.meta.url).href,
    maxThreads: settings().threads,
    idleTimeout: 30_000,
  });
  // A thread that cannot be started fails the task that waits for it, and nothing else.
  pool.on("error", (error: Error) => log.error(error, "pixel pool"));
  return pool;
}

/** The tasks of `pixelTasks`, in a pool of threads. A signal ends the thread at once. */
export const pixels = Object.fromEntries(
  (
    [
      "study",
      "preview",
      "plan",
      "compare",
      "countModules",
      "mend",
      "makeMap",
      "flattenPhoto",
      "convert",
    ] as const
  ).map((name) => [
    name,
    (task: unknown, signal?: AbortSignal, transferList?: Transferable[]) =>
      pixelPool().run(task, { name, signal, transferList }) as Promise<unknown>,
  ]),
) as {
  [K in keyof Tasks]: (
    task: Parameters<Tasks[K]>[0],
    signal?: AbortSignal,
    /** What is handed over with the task, and gone here. */
    transferList?: Transferable[],
  ) => Promise<Awaited<ReturnType<Tasks[K]>>>;
};

export async function closePixelPool(): Promise<void> {
  await pool?.destroy();
  pool = undefined;
}
