/** What a picture holds, or is said to hold. */
export interface Held {
  across?: number;
  down?: number;
  bond?: string;
}

/** Bonds whose counts are no modules of one size: they have to be named. */
const NAMED = ["english", "flemish", "basket", "herringbone"];

/** Whether what was found is true. One module alone is nothing that repeats. */
export function holds(found: Held, truth: Held): boolean {
  const many = (count?: number) => (count === 1 ? undefined : count);
  const named = (bond?: string) => (NAMED.includes(bond ?? "") ? bond : undefined);
  const isSame = many(found.across) === many(truth.across) && many(found.down) === many(truth.down);
  return isSame && (truth.bond === undefined || named(found.bond) === named(truth.bond));
}
