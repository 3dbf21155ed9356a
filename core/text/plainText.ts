import { Refusal } from "#core/text/refusal";

/** Longest text of a field that is meant for a line: a name, a path, a title. */
const LONGEST_LINE = 500;

/** Longest text of anything that is kept. */
export const LONGEST_TEXT = 20_000;

/** What no text needs: control characters, surrogates that stand alone, and marks that turn the direction of what follows. */
const UNSEEN = /[\p{Cc}\p{Cs}\u202A-\u202E\u2066-\u2069\u200E\u200F\uFEFF\uFFFE\uFFFF]/gu;

/**
 * The one gate for text from outside: composed letters (NFC), no control characters, cut to a length. Line ends and tabs become
 * spaces.
 * @param most in UTF-16 units
 */
export function plainLine(text: string, most = LONGEST_LINE): string {
  return cut(text.slice(0, most * 4).replaceAll(/[\t\n\r]+/g, " "), most);
}

/** The same for texts of several lines, which keep their line ends and tabs. */
export function plainText(text: string, most = LONGEST_TEXT): string {
  const lines = text.slice(0, most * 4).split("\n");
  return cutWhole(lines.map((line) => line.split("\t").map(seen).join("\t")).join("\n"), most);
}

const seen = (text: string) => text.replaceAll(UNSEEN, "").normalize("NFC");
const cut = (text: string, most: number) => cutWhole(seen(text), most);

/** Cut without leaving half of a letter behind. */
function cutWhole(text: string, most: number): string {
  return text.length <= most ? text : text.slice(0, most).replace(/[\uD800-\uDBFF]$/, "");
}

/** Deepest nesting of what is sent as JSON. */
const DEEPEST = 64;

/** A value of JSON with all its texts through the gate, keys as well. @throws {Refusal} where it is nested beyond reason */
export function plainJson(value: unknown, depth = DEEPEST): unknown {
  if (typeof value === "string") return plainText(value);
  if (typeof value !== "object" || value === null) return value;
  if (depth === 0) throw new Refusal(`It is nested more than ${DEEPEST} deep.`);
  if (Array.isArray(value)) return value.map((item) => plainJson(item, depth - 1));
  return Object.fromEntries(
    Object.entries(value).map(([key, item]) => [plainLine(key), plainJson(item, depth - 1)]),
  );
}
