import type { ColorListRow } from "#server/colorList/sql";

const COUNTED = {
  made: "made",
  changed: "changed",
  same: "as they were",
  kept: "left as they are",
  undone: "taken back",
} as const;

/** How far a list of colours is, and what became of its rows. */
export function listWords(state: ColorListRow["state"], counts: ColorListRow["counts"]): string {
  if (state === "reading") return "is being read";
  if (state === "failed") return "could not be read";
  if (state === "read") return `${counts.waiting ?? 0} read, nothing made yet`;
  const said = (Object.keys(COUNTED) as (keyof typeof COUNTED)[])
    .filter((one) => (counts[one] ?? 0) > 0)
    .map((one) => `${counts[one]} ${COUNTED[one]}`)
    .join(", ");
  if (state === "making") return `being made: ${said || "none yet"}, ${counts.waiting ?? 0} to go`;
  if (state === "done" && (counts.waiting ?? 0) > 0)
    return `broken off: ${said || "none made"}, ${counts.waiting} not made`;
  if (state === "undoing") return `being taken back: ${said}`;
  return said || "nothing made";
}
