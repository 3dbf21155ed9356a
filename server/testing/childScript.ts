/** Stands in for the pool's own in unit tests: built once before them, since compiling it took most of the time of a small task. */
export const CHILD_SCRIPT = new URL("../../build/test/child.js", import.meta.url);
