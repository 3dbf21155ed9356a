import { appendFileSync, existsSync, readFileSync } from "node:fs";

/** Results that a long run keeps one by one, so that the next goes on with them. */
export interface Kept<T> {
  find(id: string): T | undefined;
  add(one: T): void;
}

/** @param path of a file with a line of JSON for each; without one nothing outlives the run */
export function openKept<T extends { id: string }>(path: string | undefined): Kept<T> {
  const known = new Map<string, T>();
  if (path && existsSync(path))
    for (const line of readFileSync(path, "utf8").split("\n").filter(Boolean)) {
      const one = JSON.parse(line) as T;
      known.set(one.id, one);
    }
  return {
    find: (id) => known.get(id),
    add(one) {
      known.set(one.id, one);
      if (path) appendFileSync(path, `${JSON.stringify(one)}\n`);
    },
  };
}
