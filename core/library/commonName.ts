/** The words that two names begin or end with in common: what their line may be called. "" where they share none. */
export function commonName(one: string, other: string): string {
  const [a, b] = [one, other].map((name) => name.split(/[\s_-]+/).filter((word) => !/^\(\d+\)$/.test(word)));
  const same = (i: number, j: number) => a[i] !== undefined && a[i].toLowerCase() === b[j]?.toLowerCase();
  let begin = 0;
  while (same(begin, begin)) begin++;
  if (begin > 0) return a.slice(0, begin).join(" ");
  let end = 0;
  while (same(a.length - 1 - end, b.length - 1 - end)) end++;
  return end > 0 ? a.slice(a.length - end).join(" ") : "";
}
