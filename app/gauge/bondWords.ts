import type { Bond } from "#core/gauge/bond";

/** What is counted in each bond, in words after the number. */
export const BOND_WORDS: Record<Bond, string> = {
  stack: "",
  half: " in half bond",
  third: " in third bond",
  quarter: " in quarter bond",
  other: ", each course shifted against the one before",
  english: " stretchers and courses in English bond",
  flemish: " pairs of a stretcher and a header, and courses, in Flemish bond",
  basket: " squares of basket weave",
  herringbone: " periods of herringbone",
  herringbone45: " periods of herringbone at 45°",
};
