import { readdir, stat } from "node:fs/promises";
import { join, relative } from "node:path";

/** A file that nothing refers to. */
export interface Orphan {
  /** Inside the data folder. */
  path: string;
  bytes: number;
  why: "unknown" | "derived" | "incoming";
}

/** What is younger may belong to work that is under way. */
export const LEAST_AGE_MS = 24 * 3600_000;

/**
 * Files of the data folder that nothing refers to: kept under a hash that no row has, derived from one of those, or left
 * behind by an upload that broke off.
 * @param known which of these hashes the database has
 * @param now in ms since 1970
 */
export async function findOrphans(
  folder: string,
  known: (hashes: string[]) => Promise<Set<string>>,
  now: number,
): Promise<Orphan[]> {
  const orphans: Orphan[] = [];
  for (const [part, why] of [
    ["files", "unknown"],
    ["derived", "derived"],
  ] as const)
    for (const sub of await listed(join(folder, part))) {
      const old = await oldFiles(join(folder, part, sub), now);
      const hashes = await known([...new Set(old.map(({ path }) => hashIn(path)))]);
      for (const { path, bytes } of old)
        if (!hashes.has(hashIn(path))) orphans.push({ path: relative(folder, path), bytes, why });
    }
  for (const { path, bytes } of await oldFiles(join(folder, "incoming"), now))
    orphans.push({ path: relative(folder, path), bytes, why: "incoming" });
  return orphans;
}

/** The hash that a file's name begins with. */
const hashIn = (path: string) => path.slice(path.lastIndexOf("/") + 1).slice(0, 64);

async function oldFiles(folder: string, now: number): Promise<{ path: string; bytes: number }[]> {
  const found: { path: string; bytes: number }[] = [];
  for (const entry of await listed(folder)) {
    const path = join(folder, entry);
    // It may go while this looks.
    const facts = await stat(path).catch(() => undefined);
    if (facts?.isDirectory()) found.push(...(await oldFiles(path, now)));
    else if (facts?.isFile() && now - facts.mtimeMs > LEAST_AGE_MS) found.push({ path, bytes: facts.size });
  }
  return found;
}

async function listed(folder: string): Promise<string[]> {
  return readdir(folder).catch((error: NodeJS.ErrnoException) => {
    if (error.code === "ENOENT") return [];
    throw error;
  });
}
