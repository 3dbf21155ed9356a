/** Things by a key, in the order in which they come. */
export function gathered<T>(things: T[], keyOf: (thing: T) => string): Map<string, T[]> {
  const out = new Map<string, T[]>();
  for (const thing of things) {
    const key = keyOf(thing);
    const there = out.get(key);
    if (there) there.push(thing);
    else out.set(key, [thing]);
  }
  return out;
}
