import { randomUUID } from "node:crypto";
import { createWriteStream } from "node:fs";
import { lstat, mkdir, open, opendir, rename, rm } from "node:fs/promises";
import { dirname, join } from "node:path";
import { pipeline } from "node:stream/promises";
import type { Place } from "#server/destination/place";
import { hashOf } from "#server/store/hashOf";
import { fileStore } from "#server/store/store";

/** A folder of a destination on a disk. Links inside it are not followed. */
export function folderPlace(destinations: string, folder: string): Place {
  const root = join(destinations, folder);
  return {
    async hashAt(path) {
      return (await hasFolders(root, path)) ? hashOf(await ownFile(join(root, path))) : undefined;
    },
    async put(path, sha256) {
      await makeFolders(root, path);
      await replace(join(root, path), sha256);
    },
    list: () => filesBelow(root, ""),
    words: (error) => WORDS[(error as NodeJS.ErrnoException).code ?? ""],
  };
}

/** Each folder on the way to a path below the root. */
const foldersTo = (root: string, path: string): string[] =>
  path
    .split("/")
    .slice(0, -1)
    .map((_, at, parts) => join(root, ...parts.slice(0, at + 1)));

/** Each folder on the way, made or found; a link among them is not followed. */
async function makeFolders(root: string, path: string): Promise<void> {
  await mkdir(root, { recursive: true });
  for (const folder of foldersTo(root, path)) {
    await mkdir(folder).catch((error: NodeJS.ErrnoException) => {
      if (error.code !== "EEXIST") throw error;
    });
    await isFolder(folder);
  }
}

/** Whether each folder on the way is there; a link among them is not followed. */
async function hasFolders(root: string, path: string): Promise<boolean> {
  for (const folder of foldersTo(root, path)) if (!(await isFolder(folder))) return false;
  return true;
}

/** @throws where something else lies there */
async function isFolder(path: string): Promise<boolean> {
  const facts = await lstat(path).catch((error: NodeJS.ErrnoException) => {
    if (error.code === "ENOENT") return undefined;
    throw error;
  });
  if (facts?.isSymbolicLink()) throw Object.assign(new Error("a link"), { code: "ELOOP" });
  if (facts && !facts.isDirectory()) throw Object.assign(new Error("a file"), { code: "ENOTDIR" });
  return facts !== undefined;
}

/** @throws where the root itself is not there */
async function* filesBelow(root: string, inside: string): AsyncGenerator<string> {
  for await (const entry of await opendir(join(root, inside))) {
    const path = inside ? `${inside}/${entry.name}` : entry.name;
    if (entry.isDirectory()) yield* filesBelow(root, path);
    else yield path;
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
