/** Errors whose message is a sentence for people; by name, since those of other processes come as copies. */
const SAID = new Set(["Refusal", "Problem", "SupplierError", "RegionError", "GaugeError", "LimitError"]);

/** Whether an error's message was written for people. */
export function isSaid(error: unknown): error is Error {
  return error instanceof Error && SAID.has(error.name);
}

/** What may be shown of an error: its own sentence where it has one, and otherwise another. */
export const sentenceOf = (error: unknown, otherwise: string): string =>
  isSaid(error) ? error.message : otherwise;
