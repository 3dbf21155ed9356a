import { bundle } from "../../bin/parts/bundle.mjs";

/** Before the unit tests: the worker and its processes for pixels as they are delivered, and the name of the run's first database. */
export default async () => {
  process.env.KALONOMY_TEST_FIRST = `first_${Date.now().toString(36)}_${process.pid}`;
  await bundle("build/test");
};
