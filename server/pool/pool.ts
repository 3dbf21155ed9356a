import { totalmem } from "node:os";
import { fileURLToPath } from "node:url";
import type * as tasks from "#server/pool/poolTasks";
import { CHILD_SCRIPT } from "#server/pool/childScript";
import { processPool, type TaskLimits } from "#server/pool/processPool";
import { currentScope } from "#server/scope";
import { settings } from "#server/settings";

type Tasks = typeof tasks;

/** What the studio's own work on pixels may cost: a large image needs minutes, and most of the memory. */
const OWN_WORK: TaskLimits = { seconds: 3600, mebibytes: Math.round((totalmem() / 2 ** 20) * 0.7) };

let made: ReturnType<typeof processPool> | undefined;

const processes = () =>
  (made ??= processPool(fileURLToPath(CHILD_SCRIPT), {
    most: settings().threads,
    idleMs: 30_000,
  }));

const NAMES = [
  "study",
  "preview",
  "opacity",
  "plan",
  "judgeMaps",
  "compare",
  "figures",
  "countModules",
  "mend",
  "makeMap",
  "flattenPhoto",
  "convert",
  "makeCard",
  "readCardPicture",
  "drawPicture",
  "proveDelivery",
  "measurePicture",
  "measureReferencePicture",
  "panoramaFile",
  "pickColor",
  "unzip",
  "readModel",
  "readSheet",
  "readColorList",
  "readLicenceFile",
  "findLinks",
] as const satisfies (keyof Tasks)[];

/** The tasks of `poolTasks`, each in a process of its own with hard limits. */
export const pool = Object.fromEntries(
  NAMES.map((name) => [
    name,
    (task: unknown, limits: Partial<TaskLimits> = {}) =>
      processes().run(name, task, { ...OWN_WORK, isUrgent: currentScope()?.isUrgent, ...limits }),
  ]),
) as {
  [K in (typeof NAMES)[number]]: (
    task: Parameters<Tasks[K]>[0],
    limits?: Partial<TaskLimits>,
  ) => Promise<Awaited<ReturnType<Tasks[K]>>>;
};

/** How many tasks are worked on, and how many wait. */
export const poolState = () => made?.state() ?? { busy: 0, waiting: 0 };

export async function closePool(): Promise<void> {
  await made?.close();
  made = undefined;
}
