/** What stands behind a mark and says nothing of what the file is: how many pixels and bits it has, and its extension. */
const BEHIND = /(?:\.[a-z0-9]{2,4}|[-_. ]?(?:\d{1,2}k|\d{3,5}(?:px)?|\d{1,2}[-_ ]?bits?))$/i;
/** More of a name's end is not looked at: a name may be as long as it will. */
const LONGEST_END = 120;
/** A word of letters behind a separator, with the one digit that may belong to it. */
const BEHIND_SEPARATOR = /([-_. ]+)(\p{L}+\d?)$/u;
/** The last word of camel case: `Nrm` of `BrickNrm`, `AO` of `BrickAO`. */
const LAST_HUMP = /(?<=\p{Ll})(\p{Lu}\p{Ll}*|\p{Lu}+)\d?$/u;

/**
 * How a file's name ends, as it is written there: `_kx` of `wall_kx_2k.png`. Files of one source that hold the same kind of map end
 * alike, and files of other sources are written otherwise.
 * @returns "" where the name does not end in a word of its own
 */
export function markOf(file: string): string {
  let name = file.slice(Math.max(file.lastIndexOf("/"), file.lastIndexOf("\\")) + 1).slice(-LONGEST_END);
  while (BEHIND.test(name)) name = name.replace(BEHIND, "");
  const [whole] = BEHIND_SEPARATOR.exec(name) ?? LAST_HUMP.exec(name) ?? [""];
  // A name that is one word has no mark: the word is the name.
  return whole.length < name.length ? whole : "";
}
