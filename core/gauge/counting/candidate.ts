import type { Bond } from "#core/gauge/bond";

/** What a picture may hold. */
export interface Candidate {
  kind: "stripes" | "flanks" | "waves" | "bonded" | "mixed" | "basket" | "lattice" | "grid" | "nothing";
  across?: number;
  down?: number;
  bond: Bond;
  upright?: boolean;
  /** Of herringbone: how many times as long as wide a block is. */
  blockLength?: number;
  /** What speaks for it and against it: each about as large as 1, and 0 where there is none. */
  signs: Record<string, number>;
}

/** Bonds whose counts are no modules of one size: naming them is a part of what is said. */
const NAMED: readonly Bond[] = ["english", "flemish", "basket", "herringbone"];

/** What a candidate says, in one word: candidates found in different ways may say the same. One module alone is nothing that repeats. */
export function statementOf({ across, down, bond }: Pick<Candidate, "across" | "down" | "bond">): string {
  const many = (count?: number) => (count === undefined || count === 1 ? "-" : count);
  return `${many(across)} ${many(down)} ${NAMED.includes(bond) ? bond : ""}`;
}

export const cut = (value: number, least: number, most: number): number =>
  Number.isFinite(value) ? Math.max(least, Math.min(most, value)) : least;
