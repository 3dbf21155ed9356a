/** A file of an intake, kept in the store. */
export interface KeptFile {
  sha256: string;
  bytes: number;
}

/** The files of one scope by their paths. */
export interface KeptFiles {
  add(path: string, file: KeptFile): void;
  /** A path as it is written, or in other case: models are often made where case does not count. */
  find(path: string): KeptFile | undefined;
  list(): [path: string, file: KeptFile][];
}

export function keptFiles(): KeptFiles {
  const exact = new Map<string, KeptFile>();
  const inAnyCase = new Map<string, KeptFile>();
  return {
    add(path, file) {
      exact.set(path, file);
      if (!inAnyCase.has(path.toLowerCase())) inAnyCase.set(path.toLowerCase(), file);
    },
    find: (path) => exact.get(path) ?? inAnyCase.get(path.toLowerCase()),
    list: () => [...exact],
  };
}
