import { plainLine } from "#core/text/plainText";

/** Longest path of an upload that is kept. */
const LONGEST = 1000;

/** Longest name of one file or folder, and what is kept of its end where it is longer: the words that tell the role. */
const LONGEST_PART = 200;
const KEPT_END = 60;

/**
 * The name of an upload or of an entry as a relative path that leads nowhere else, through the gate for text from outside;
 * "unnamed" where nothing is left of it.
 */
export function safeName(name: string): string {
  const parts = name
    .slice(-4 * LONGEST)
    .split(/[\\/]/)
    .map((part) => shortened(plainLine(part, 4 * LONGEST)))
    .filter((part) => part !== "" && part !== "." && part !== ".." && !/^[a-z]:$/i.test(part));
  while (parts.length > 1 && parts.join("/").length > LONGEST) parts.shift();
  return parts.join("/") || "unnamed";
}

/** A long name without its middle, so that two long ones still differ at both ends. */
function shortened(part: string): string {
  if (part.length <= LONGEST_PART) return part;
  const ends = `${part.slice(0, LONGEST_PART - KEPT_END - 1)}…${part.slice(-KEPT_END)}`;
  return plainLine(ends, LONGEST_PART);
}

/** A path that is not taken yet: "a (2).png" where "a.png" is. */
export function freePath(path: string, taken: Set<string>): string {
  let free = path;
  const dot = /\.[^./]{1,8}$/.exec(path)?.index ?? path.length;
  for (let n = 2; taken.has(free); n++) free = `${path.slice(0, dot)} (${n})${path.slice(dot)}`;
  taken.add(free);
  return free;
}
