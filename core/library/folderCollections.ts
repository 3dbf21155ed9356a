export interface FolderOptions {
  /** How many folders deep collections are made; deeper ones are merged into the last. */
  level: number;
  /** A folder with fewer sets than this goes into the one above. */
  thin: number;
}

/** Where each set of an intake goes: names of nested collections from the top; empty for none. */
export type CollectionPath = string[];

/**
 * Takes a folder tree over as nested collections. Folders below the level, and thin ones, are merged into the folder above; a
 * set's own folder, which holds nothing but that set, is no collection.
 * @param folders the folder of each set, with "/" between; "" at the top
 */
export function planCollections(folders: string[], { level, thin }: FolderOptions): CollectionPath[] {
  const paths = folders.map((folder) => folder.split("/").filter(Boolean));
  const settled = paths.map((path) => path.slice(0, level));
  for (let depth = level; depth > 0; depth--) {
    const counts = new Map<string, number>();
    for (const path of settled)
      if (path.length >= depth) {
        const key = path.slice(0, depth).join("/");
        counts.set(key, (counts.get(key) ?? 0) + 1);
      }
    for (const [i, path] of settled.entries())
      if (path.length === depth && counts.get(path.join("/"))! < thin) settled[i] = path.slice(0, depth - 1);
  }
  return settled;
}

/** The collections that a plan makes, each with how many sets go directly into it, in order. */
export function collectionsOf(paths: CollectionPath[]): { path: CollectionPath; sets: number }[] {
  const counts = new Map<string, number>();
  for (const path of paths)
    for (let depth = 1; depth <= path.length; depth++) {
      const key = path.slice(0, depth).join("/");
      counts.set(key, (counts.get(key) ?? 0) + (depth === path.length ? 1 : 0));
    }
  return [...counts]
    .map(([key, sets]) => ({ path: key.split("/"), sets }))
    .sort((a, b) => a.path.join("/").localeCompare(b.path.join("/")));
}
