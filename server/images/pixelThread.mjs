// A thread of the pixel pool: Node reads no TypeScript by itself, so the tasks are loaded through tsx.
import { tsImport } from "tsx/esm/api";

export const { study, preview, plan, compare, countModules, makeMap, mend, flattenPhoto, convert } =
  await tsImport("./pixelTasks.ts", import.meta.url);
