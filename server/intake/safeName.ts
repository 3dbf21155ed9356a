/** Longest path of an upload that is kept. */
const LONGEST = 1000;

/** The name of an upload as a relative path that leads nowhere else; "unnamed" where nothing is left of it. */
export function safeName(name: string): string {
  const parts = name
    .replaceAll(/\p{Cc}/gu, "")
    .split(/[\\/]/)
    .filter((part) => part !== "" && part !== "." && part !== ".." && !/^[a-z]:$/i.test(part));
  return parts.join("/").slice(-LONGEST) || "unnamed";
}

/** A path that is not taken yet: "a (2).png" where "a.png" is. */
export function freePath(path: string, taken: Set<string>): string {
  let free = path;
  const dot = /\.[^./]{1,8}$/.exec(path)?.index ?? path.length;
  for (let n = 2; taken.has(free); n++) free = `${path.slice(0, dot)} (${n})${path.slice(dot)}`;
  taken.add(free);
  return free;
}
