import { bundle } from "../../bin/parts/bundle.mjs";

/** Before the unit tests: the worker and its processes for pixels as they are delivered. */
export default () => bundle("build/test");
