import type { Unsized } from "#server/sizing/sheet";

/**
 * What the sheet shows after it was read anew: everything stays where it is, what was taken here as well, so that nothing slides under
 * a pointer that is about to take it; what is new comes last. Once nothing is left, nothing is held.
 * @param isTaken whether a material was taken on this sheet
 */
export function heldItems(
  before: readonly Unsized[],
  now: readonly Unsized[],
  isTaken: (id: string) => boolean,
): Unsized[] {
  if (now.length === 0) return [];
  const there = new Map(now.map((item) => [item.id, item]));
  const known = new Set(before.map(({ id }) => id));
  return [
    ...before.flatMap((item) => there.get(item.id) ?? (isTaken(item.id) ? item : [])),
    ...now.filter(({ id }) => !known.has(id)),
  ];
}
