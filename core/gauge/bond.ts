/**
 * How the courses of a pattern lie to each other. "english" are courses of stretchers and of headers in turn, "flemish" both in each
 * course, "basket" squares of blocks that lie and stand in turn, "other" any other shift.
 */
export const BONDS = [
  "stack",
  "half",
  "third",
  "quarter",
  "other",
  "english",
  "flemish",
  "basket",
  "herringbone",
  "herringbone45",
] as const;
export type Bond = (typeof BONDS)[number];
