import { availableParallelism } from "node:os";
import { Piscina } from "piscina";
import type { Converted, ConvertTask, IdentifiedImage, PreviewTask, preview } from "#server/images/pixelTasks";

let pool: Piscina | undefined;

function pixelPool(): Piscina {
  return (pool ??= new Piscina({
    filename: new URL("./pixelTasks.ts", import.meta.url).href,
    execArgv: ["--import", "tsx"],
    maxThreads: availableParallelism(),
    idleTimeout: 30_000,
  }));
}

/** The tasks of `pixelTasks`, in a pool of threads. */
export const pixels = {
  identify: (path: string, signal?: AbortSignal): Promise<IdentifiedImage> => pixelPool().run({ path }, { name: "identify", signal }),
  preview: (task: PreviewTask, signal?: AbortSignal): ReturnType<typeof preview> => pixelPool().run(task, { name: "preview", signal }),
  convert: (task: ConvertTask, signal?: AbortSignal): Promise<Converted> => pixelPool().run(task, { name: "convert", signal }),
};

export async function closePixelPool(): Promise<void> {
  await pool?.destroy();
  pool = undefined;
}
