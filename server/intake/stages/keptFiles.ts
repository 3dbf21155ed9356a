import type { Kept } from "#server/store/fileStore";

/** The files of one scope by their paths. */
export interface KeptFiles {
  add(path: string, file: Kept): void;
  /** A path as it is written, or in other case: models are often made where case does not count. */
  find(path: string): Kept | undefined;
  list(): [path: string, file: Kept][];
}

export function keptFiles(): KeptFiles {
  const exact = new Map<string, Kept>();
  const inAnyCase = new Map<string, Kept>();
  return {
    add(path, file) {
      exact.set(path, file);
      if (!inAnyCase.has(path.toLowerCase())) inAnyCase.set(path.toLowerCase(), file);
    },
    find: (path) => exact.get(path) ?? inAnyCase.get(path.toLowerCase()),
    list: () => [...exact],
  };
}
