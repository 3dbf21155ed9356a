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

const BOND_OF: Record<number, Bond> = {
  1: "stack",
  2: "half",
  3: "third",
  4: "quarter",
};
/** The bond of courses that are shifted by a part of a module, `turns` of `steps`. */
export const bondOf = (turns: number, steps: number): Bond =>
  Math.abs(turns) <= 1 ? (BOND_OF[steps] ?? "other") : "other";
