import { mergeFields, type FieldValues, type MergedField } from "#core/finish/mergeFields";
import { savedMeanwhile } from "#server/problem";

/** What the second of two people who save at once is told: nothing of theirs was saved, and nothing of it is lost. */
export interface Clash {
  /** The revision that they had before them. */
  seen: number;
  /** The one that is there now, and whose work it is. */
  revision: number;
  by: string;
  /** Field by field what both made of the same beginning, where they differ: a proposal for merging them. */
  fields: MergedField[];
  /** All fields as the second one would have them. */
  mine: FieldValues;
}

/** What came of saving on top of a revision that somebody saw. */
export type Outcome<T> = { saved: T } | { clash: Clash };

export function clashOf(
  seen: number,
  now: { revision: number; by: string },
  versions: { base: FieldValues; theirs: FieldValues; mine: FieldValues },
): Clash {
  const { base, theirs, mine } = versions;
  return { seen, ...now, fields: mergeFields(base, theirs, mine), mine };
}

/** Whether the other one changed any of the same fields. */
export const isContradicted = ({ fields }: Clash): boolean =>
  fields.some(({ changedBy }) => changedBy !== "me");

/** What was saved. @throws {Problem} 412 where it was not: for whoever cannot be shown both versions */
export function savedOf<T>(outcome: Outcome<T>): T {
  if ("saved" in outcome) return outcome.saved;
  const { seen, revision, by } = outcome.clash;
  throw savedMeanwhile(
    `You saw revision ${seen}; ${by} has saved revision ${revision} since. Nothing of yours was saved: look at the new one and save again.`,
  );
}
