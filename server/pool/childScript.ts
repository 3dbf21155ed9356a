/** What each process of the pool runs: beside this file in the sources, and beside the worker once that is built. */
export const CHILD_SCRIPT = new URL(
  import.meta.url.endsWith(".ts") ? "./child.ts" : "./child.js",
  import.meta.url,
);
