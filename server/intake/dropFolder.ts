import { createReadStream } from "node:fs";
import { lstat, mkdir, readdir } from "node:fs/promises";
import { join, relative, sep } from "node:path";
import { database, violates } from "#server/db/database";
import { findIntakeAt } from "#server/db/intakes";
import { findKeeper } from "#server/db/people";
import { fileStore } from "#server/files/store";
import { startIntake, type Upload } from "#server/intake/receive";

/** One thing in the drop folder: a file or a folder, with what shows whether it still grows. */
interface Dropped {
  name: string;
  files: string[];
  /** Changes when a file is added, written to or taken away. */
  signature: string;
}

/** Most files of one dropped folder. */
const MOST_FILES = 20_000;

/** What was seen at the last look, by name. */
export type Seen = Map<string, string>;

/**
 * Looks into the drop folder once. What looks just as it did the last time is taken in; the original stays where it is. Something
 * that was taken in is taken again only after it has changed.
 * @returns what is there now, for the next look
 */
export async function lookIntoDropFolder(folder: string, before: Seen): Promise<Seen> {
  await mkdir(folder, { recursive: true });
  const now: Seen = new Map();
  for (const entry of await readdir(folder, { withFileTypes: true })) {
    if (entry.name.startsWith(".") || !(entry.isFile() || entry.isDirectory())) continue;
    const dropped = await lookAt(folder, entry.name).catch(() => undefined);
    if (!dropped || dropped.files.length === 0) continue;
    now.set(entry.name, dropped.signature);
    if (before.get(entry.name) === dropped.signature) await takeIn(folder, dropped);
  }
  return now;
}

async function lookAt(folder: string, name: string): Promise<Dropped> {
  const files: string[] = [];
  let [bytes, newest] = [0, 0];
  const walk = async (path: string): Promise<void> => {
    const stat = await lstat(path);
    newest = Math.max(newest, stat.mtimeMs);
    if (stat.isFile()) {
      files.push(path);
      bytes += stat.size;
    } else if (stat.isDirectory())
      for (const entry of await readdir(path))
        if (!entry.startsWith(".") && files.length < MOST_FILES) await walk(join(path, entry));
  };
  await walk(join(folder, name));
  return {
    name,
    files: files.sort(),
    signature: `${files.length} files, ${bytes} bytes, ${Math.round(newest)}`,
  };
}

async function takeIn(folder: string, { name, files, signature }: Dropped): Promise<void> {
  const foundAt = `${name} (${signature})`;
  if (await findIntakeAt(database(), foundAt)) return;
  const keeper = await findKeeper(database());
  if (!keeper) return;
  const uploads: Upload[] = [];
  for (const path of files) {
    const kept = await fileStore().keep(createReadStream(path));
    uploads.push({ name: relative(folder, path).split(sep).join("/"), ...kept });
  }
  // It grew while it was copied: the next look sees it as it is then.
  if ((await lookAt(folder, name)).signature !== signature) return;
  try {
    await startIntake(uploads, { foundAt }, keeper.id);
  } catch (error) {
    // Another worker took it in at the same moment.
    if (!violates(error, "intakes_found_at_key")) throw error;
  }
}
