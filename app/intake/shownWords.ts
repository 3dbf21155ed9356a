import type { Shown } from "#core/candidates/shown";

/** The words of the sentence that says which candidates are shown. */
export const SHOWN_WORDS: Record<Shown, string> = {
  all: "all",
  waiting: "those that wait",
  wrong: "those with something wrong",
  look: "those to look at",
  asked: "those with a question",
  clash: "those that the library may have",
  accepted: "those accepted",
};
