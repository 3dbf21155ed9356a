import { setFlagsFromString } from "node:v8";
import { runInNewContext } from "node:vm";

setFlagsFromString("--expose-gc");
/** Gives back all that nobody holds any more. */
export const collect = runInNewContext("gc") as () => void;

/** Below this the collector is left to itself. */
const LARGE_BYTES = 8 * 2 ** 20;

/**
 * Gives back the memory of an image that is done with. Pixels lie outside of the collector's heap, which looks small to it
 * all the while: left to itself it keeps several images at once, each of which can have a gigabyte.
 */
export function freePixels(bytes: number): void {
  if (bytes >= LARGE_BYTES) collect();
}
