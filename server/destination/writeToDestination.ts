import { randomUUID } from "node:crypto";
import { createWriteStream } from "node:fs";
import { lstat, mkdir, open, rename, rm } from "node:fs/promises";
import { dirname, join, resolve, sep } from "node:path";
import { pipeline } from "node:stream/promises";
import { Refusal } from "#core/text/refusal";
import { database } from "#server/db/database";
import { findDestinationFile } from "#server/destination/queries";
import { keepDestinationFile } from "#server/destination/writes";
import { hashOf } from "#server/store/hashOf";
import { fileStore } from "#server/store/store";
import { log } from "#server/log";
import { settings } from "#server/settings";

/**
 * Puts a file to its stable place in a destination, whole or not at all. A file that is there already with the same
 * content is left alone, even if somebody else wrote it. Links inside a destination are not followed.
 * @returns whether it was written
 * @throws {Refusal} where the place cannot be written to
 */
export async function writeToDestination(
  destination: { id: string; name: string; folder: string },
  file: { path: string; sha256: string },
  delivery: string,
): Promise<boolean> {
  const root = join(settings().destinationsFolder, destination.folder);
  const target = resolve(root, file.path);
  if (!target.startsWith(root + sep)) throw new Refusal(`${file.path} leads out of the destination.`);
  const recorded = await findDestinationFile(database(), destination.id, file.path);
  const written = await inWords(destination.name, async () => {
    await makeFolders(root, file.path);
    const present =
      recorded === undefined || recorded === file.sha256 ? await hashOf(await ownFile(target)) : undefined;
    if (present === file.sha256) return false;
    await replace(target, file.sha256);
    return true;
  });
  if (recorded !== file.sha256)
    await keepDestinationFile(database(), {
      destination: destination.id,
      path: file.path,
      sha256: file.sha256,
      delivery,
    });
  return written;
}

/** Each folder on the way, made or found; a link among them is not followed. */
async function makeFolders(root: string, path: string): Promise<void> {
  await mkdir(root, { recursive: true });
  let at = root;
  for (const part of path.split("/").slice(0, -1)) {
    at = join(at, part);
    await mkdir(at).catch((error: NodeJS.ErrnoException) => {
      if (error.code !== "EEXIST") throw error;
    });
    const facts = await lstat(at);
    if (facts.isSymbolicLink()) throw Object.assign(new Error("a link"), { code: "ELOOP" });
    if (!facts.isDirectory()) throw Object.assign(new Error("a file"), { code: "ENOTDIR" });
  }
}

/** A path, unless a link lies there: that is replaced, and never read or written through. */
async function ownFile(target: string): Promise<string> {
  const facts = await lstat(target).catch(() => undefined);
  return facts?.isSymbolicLink() ? "" : target;
}

async function replace(target: string, sha256: string): Promise<void> {
  const incoming = join(dirname(target), `.incoming-${randomUUID()}`);
  try {
    await pipeline(
      fileStore().stream(sha256),
      // "x": where anything lies there, be it a link, nothing is written.
      createWriteStream(incoming, { flags: "wx" }),
    );
    // On the disk before it has its name: a crash leaves the old file or the new one.
    const handle = await open(incoming, "r");
    await handle.sync().finally(() => handle.close());
    await rename(incoming, target);
  } catch (error) {
    await rm(incoming, { force: true }).catch(() => undefined);
    throw error;
  }
}

const WORDS: Record<string, string> = {
  ENOSPC: "is full. Make room",
  EDQUOT: "is full. Make room",
  EROFS: "can only be read. Have it made writable",
  EACCES: "may not be written to by the worker. Have its rights changed",
  EPERM: "may not be written to by the worker. Have its rights changed",
  ELOOP: "has a link where a folder belongs; links are not followed. Take it away",
  ENOTDIR: "has a file where a folder belongs. Take it away",
  EISDIR: "has a folder where a file belongs. Take it away",
  ENOENT: "is not there any more. Have it mounted",
  EIO: "cannot be written: its disk fails. Have it looked at",
  ESTALE: "is not reached any more. Have it mounted again",
};

async function inWords<T>(name: string, work: () => Promise<T>): Promise<T> {
  try {
    return await work();
  } catch (error) {
    const words = WORDS[(error as NodeJS.ErrnoException).code ?? ""];
    if (!words) throw error;
    log.warn({ err: error, destination: name }, "a destination cannot be written to");
    throw new Refusal(`The destination “${name}” ${words} and deliver again; the zip has everything.`);
  }
}
