import type { CandidateRow } from "#server/db/intakes";

/** The words of the sentence that says which candidates are shown. */
export const SHOWN = {
  all: "all",
  waiting: "those that wait",
  wrong: "those with something wrong",
  look: "those to look at",
  asked: "those with a question",
  clash: "those that the library may have",
  accepted: "those accepted",
} as const;
export type Shown = keyof typeof SHOWN;

type Filtered = Pick<CandidateRow, "name" | "state" | "findings" | "clashes" | "folder"> & {
  maps: Pick<CandidateRow["maps"][number], "file" | "role">[];
};

const TESTS: Record<Shown, (candidate: Filtered) => boolean> = {
  all: () => true,
  waiting: ({ state }) => state === "waiting",
  wrong: ({ findings }) => findings.some(({ level }) => level === "wrong"),
  look: ({ findings }) => findings.some(({ level }) => level !== "note"),
  asked: ({ state, maps }) => state === "waiting" && maps.some(({ role }) => role === "unknown"),
  clash: ({ clashes, findings }) =>
    clashes.length > 0 || findings.some(({ code }) => code === "same-picture"),
  accepted: ({ state }) => state === "accepted",
};

export const isShown = (word: string | null): word is Shown => word !== null && Object.hasOwn(SHOWN, word);

/** Candidates of one kind whose name, folder or files hold all the words that were typed. */
export function filterCandidates<C extends Filtered>(candidates: C[], shown: Shown, words: string): C[] {
  const wanted = words.toLowerCase().split(/\s+/).filter(Boolean);
  return candidates.filter((candidate) => {
    const text = [candidate.name, candidate.folder, ...candidate.maps.map(({ file }) => file)]
      .join("\n")
      .toLowerCase();
    return TESTS[shown](candidate) && wanted.every((word) => text.includes(word));
  });
}

/** How many there are of each kind. */
export function countShown(candidates: Filtered[]): Record<Shown, number> {
  return Object.fromEntries(
    (Object.keys(SHOWN) as Shown[]).map((shown) => [shown, candidates.filter(TESTS[shown]).length]),
  ) as Record<Shown, number>;
}
