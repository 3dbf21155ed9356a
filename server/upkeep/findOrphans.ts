import type { FileStore, StoredFile } from "#server/store/fileStore";

/** A file that nothing refers to. */
export interface Orphan {
  /** Inside the store. */
  path: string;
  bytes: number;
  why: "unknown" | "derived" | "incoming";
}

/** What is younger may belong to work that is under way. */
export const LEAST_AGE_MS = 24 * 3600_000;

const AT_ONCE = 1000;

/**
 * Files of the store that nothing refers to: kept under a hash that no row has, derived from one of those, or left
 * behind by an upload that broke off.
 * @param known which of these hashes the database has
 * @param now in ms since 1970
 */
export async function findOrphans(
  store: FileStore,
  known: (hashes: string[]) => Promise<Set<string>>,
  now: number,
): Promise<Orphan[]> {
  const orphans: Orphan[] = [];
  const isOld = ({ changedAt }: StoredFile) => now - changedAt > LEAST_AGE_MS;
  for (const [part, why] of [
    ["files", "unknown"],
    ["derived", "derived"],
  ] as const) {
    let some: StoredFile[] = [];
    const look = async () => {
      const hashes = await known([...new Set(some.map(({ path }) => hashIn(path)))]);
      for (const { path, bytes } of some) if (!hashes.has(hashIn(path))) orphans.push({ path, bytes, why });
      some = [];
    };
    for await (const file of store.list(part)) {
      if (isOld(file)) some.push(file);
      if (some.length >= AT_ONCE) await look();
    }
    await look();
  }
  for await (const file of store.list("incoming"))
    if (isOld(file)) orphans.push({ path: file.path, bytes: file.bytes, why: "incoming" });
  return orphans;
}

/** The hash that a file's name begins with. */
const hashIn = (path: string) => path.slice(path.lastIndexOf("/") + 1).slice(0, 64);
