import type { BulkChange, ChangedItem } from "#server/change/queries";

const KIND_WORDS: Record<BulkChange["kind"], string> = {
  size: "Sizes",
  facts: "Facts",
  name: "Names",
  grade: "Grade",
  place: "Collections",
  swap: "Swapped for another variant",
  mend: "Mended",
  delete: "Taken out of the library",
};

/** What was done, as the head of its page. */
export const kindWords = (kind: BulkChange["kind"]) => KIND_WORDS[kind];

export const STATE_WORDS: Record<ChangedItem["state"], string> = {
  waiting: "waits",
  changed: "changed",
  same: "was so already",
  refused: "not changed",
  undone: "taken back",
  kept: "not taken back",
};

/** How many became what, in a line: “7 changed, 1 not changed”. */
export function countWords(counts: BulkChange["counts"]): string {
  const said = (Object.keys(STATE_WORDS) as ChangedItem["state"][])
    .filter((state) => (counts[state] ?? 0) > 0)
    .map((state) => `${counts[state]} ${STATE_WORDS[state]}`);
  return said.join(", ");
}
