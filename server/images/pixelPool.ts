import { availableParallelism } from "node:os";
import { Piscina } from "piscina";
import type {
  Converted,
  ConvertTask,
  IdentifiedImage,
  PreviewTask,
  preview,
} from "#server/images/pixelTasks";

let pool: Piscina | undefined;

function pixelPool(): Piscina {
  if (pool) return pool;
  pool = new Piscina({
    filename: new URL("./pixelThread.mjs", import.meta.url).href,
    maxThreads: availableParallelism(),
    idleTimeout: 30_000,
  });
  // A thread that cannot be started fails the task that waits for it, and nothing else.
  pool.on("error", (error: Error) => console.error(`pixel pool: ${error.message}`));
  return pool;
}

/** The tasks of `pixelTasks`, in a pool of threads. */
export const pixels = {
  identify: (path: string, signal?: AbortSignal): Promise<IdentifiedImage> =>
    pixelPool().run({ path }, { name: "identify", signal }),
  preview: (task: PreviewTask, signal?: AbortSignal): ReturnType<typeof preview> =>
    pixelPool().run(task, { name: "preview", signal }),
  convert: (task: ConvertTask, signal?: AbortSignal): Promise<Converted> =>
    pixelPool().run(task, { name: "convert", signal }),
};

export async function closePixelPool(): Promise<void> {
  await pool?.destroy();
  pool = undefined;
}
