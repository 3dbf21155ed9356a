import { createReadStream } from "node:fs";
import { lstat, mkdir, readdir } from "node:fs/promises";
import { database, violates } from "#server/db/database";
import { findIntakeAt } from "#server/intake/queries";
import { findKeeper } from "#server/people/queries";
import { fileStore } from "#server/store/store";
import type { Upload } from "#server/http/receiveForm";
import { startIntake } from "#server/intake/receiving/receive";
import { safeName } from "#server/opening/safeName";
import { log } from "#server/log";
import { isDatabaseAway } from "#server/ownFault";

/** A file by the bytes of its path, and how that is shown. */
interface DroppedFile {
  path: Buffer;
  shown: string;
}

/** One thing in the drop folder: a file or a folder, with what shows whether it still grows. */
interface Dropped {
  name: string;
  files: DroppedFile[];
  /** Changes when a file is added, written to or taken away. */
  signature: string;
}

/** Most files of one dropped folder. */
const MOST_FILES = 20_000;
const DEEPEST = 40;

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
  // As bytes: a name that is no UTF-8 would otherwise lead to nothing.
  for (const raw of await readdir(folder, { encoding: "buffer" })) {
    const name = readableName(raw);
    if (name.startsWith(".")) continue;
    try {
      const dropped = await lookAt(folder, raw);
      if (dropped.files.length === 0) continue;
      now.set(name, dropped.signature);
      if (before.get(name) === dropped.signature) await takeIn(folder, raw, dropped);
    } catch (error) {
      if (isDatabaseAway(error)) throw error;
      // It may have been taken away meanwhile; what cannot be read is told once.
      if ((error as NodeJS.ErrnoException).code === "ENOENT") continue;
      now.set(name, "cannot be read");
      if (before.get(name) !== "cannot be read")
        log.warn({ err: error, name }, "the drop folder has what cannot be read");
    }
  }
  return now;
}

/** A name in UTF-8, or where its bytes are none, as the older systems wrote it. */
function readableName(raw: Buffer): string {
  const text = raw.toString("utf8");
  return safeName(Buffer.from(text).equals(raw) ? text : new TextDecoder("windows-1252").decode(raw));
}

const SLASH = Buffer.from("/");
const joined = (folder: Buffer, name: Buffer) => Buffer.concat([folder, SLASH, name]);

async function lookAt(folder: string, raw: Buffer): Promise<Dropped> {
  const files: DroppedFile[] = [];
  let [bytes, newest] = [0, 0];
  const walk = async (path: Buffer, shown: string, depth: number): Promise<void> => {
    const stat = await lstat(path);
    newest = Math.max(newest, stat.mtimeMs);
    if (stat.isFile()) {
      files.push({ path, shown });
      bytes += stat.size;
    } else if (stat.isDirectory() && depth < DEEPEST)
      for (const entry of await readdir(path, { encoding: "buffer" })) {
        const name = readableName(entry);
        if (!name.startsWith(".") && files.length < MOST_FILES)
          await walk(joined(path, entry), `${shown}/${name}`, depth + 1);
      }
  };
  const name = readableName(raw);
  await walk(joined(Buffer.from(folder), raw), name, 0);
  return {
    name,
    files: files.sort((a, b) => (a.shown < b.shown ? -1 : 1)),
    signature: `${files.length} files, ${bytes} bytes, ${Math.round(newest)}`,
  };
}

async function takeIn(folder: string, raw: Buffer, { name, files, signature }: Dropped): Promise<void> {
  const foundAt = `${name} (${signature})`;
  if (await findIntakeAt(database(), foundAt)) return;
  const keeper = await findKeeper(database());
  if (!keeper) return;
  const uploads: Upload[] = [];
  for (const { path, shown } of files) {
    const kept = await fileStore().keep(createReadStream(path));
    uploads.push({ name: shown, ...kept });
  }
  // It grew while it was copied: the next look sees it as it is then.
  if ((await lookAt(folder, raw)).signature !== signature) return;
  try {
    await startIntake(uploads, { foundAt }, keeper.id);
  } catch (error) {
    // Another worker took it in at the same moment.
    if (!violates(error, "intakes_found_at_key")) throw error;
  }
}
