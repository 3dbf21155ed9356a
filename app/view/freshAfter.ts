const LEAST_MS = 500;
const MOST_MS = 30_000;
/** A page is loaded again for a tenth of the time at most: of many that are open everywhere, none makes all the others wait. */
const REST = 9;

/**
 * How long after an event a page is loaded again, in ms. Pages that hear of the same thing spread out, the more the longer it takes.
 * @param tookMs to load it the last time
 * @param chance 0..1
 */
export const freshAfter = (tookMs: number, chance: number): number =>
  Math.min(MOST_MS, Math.max(LEAST_MS, tookMs * REST) * (1 + chance / 2));
