/** What tells one file of a folder from another. */
interface Known {
  name: string;
  bytes: number;
}

/**
 * Puts the files that somebody picked again into the order in which they were announced, so that those that arrived are
 * not sent twice. New files come last.
 */
export function matchArrived<F extends Known>(
  files: F[],
  arrived: (Known & { position: number })[],
): { ordered: (F | undefined)[]; missing: number } {
  const left = [...files];
  const highest = Math.max(-1, ...arrived.map(({ position }) => position));
  const ordered: (F | undefined)[] = Array<F | undefined>(Math.max(files.length, highest + 1)).fill(
    undefined,
  );
  let missing = 0;
  for (const { position, name, bytes } of arrived) {
    const at = left.findIndex((file) => file.name === name && file.bytes === bytes);
    if (at < 0) missing++;
    else [ordered[position]] = left.splice(at, 1);
  }
  const free = ordered.flatMap((_, position) =>
    arrived.some((known) => known.position === position) ? [] : [position],
  );
  for (const [i, file] of left.entries()) ordered[free[i] ?? ordered.length] = file;
  return { ordered, missing };
}
