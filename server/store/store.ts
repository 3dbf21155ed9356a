import { createHash, randomUUID } from "node:crypto";
import { createReadStream, createWriteStream, mkdirSync } from "node:fs";
import { mkdir, open, readFile, rename, rm, stat, utimes, writeFile } from "node:fs/promises";
import { dirname, join } from "node:path";
import { pipeline } from "node:stream/promises";
import { Transform, type Readable } from "node:stream";
import { hashOf } from "#server/store/hashOf";
import { settings } from "#server/settings";

/** Where files lie. Kept small, so that an object store can stand in for a folder. */
export interface FileStore {
  /** Streams a file in and keeps it once under its SHA-256; a broken stream leaves nothing behind. */
  keep(stream: Readable): Promise<{ sha256: string; bytes: number }>;
  /** The same for a file that `write` makes at a path of its own. */
  make(write: (path: string) => Promise<void>): Promise<{ sha256: string; bytes: number }>;
  read(sha256: string): Promise<Buffer>;
  /** For `pipeline` or a zip, in the very tick in which it comes: it may err in the next one. */
  stream(sha256: string): Readable;
  has(sha256: string): Promise<boolean>;
  /** A local path of a kept file, for libraries that need random access. */
  path(sha256: string): string;
  /** Derived files under a name of their own: whole or not at all. */
  writeDerived(name: string, data: Uint8Array): Promise<void>;
  derivedPath(name: string): string;
}

/**
 * Files in a folder, spread over subfolders by the first digits of the hash.
 * @param incomingFolder inside the root, for what is not whole yet
 */
export function folderStore(root: string, incomingFolder = "incoming"): FileStore {
  const path = (sha256: string) => join(root, "files", sha256.slice(0, 2), sha256.slice(2, 4), sha256);
  const derivedPath = (name: string) => join(root, "derived", name.slice(0, 2), name);
  /** A path to write at, outside of everything that is kept. */
  const newIncoming = () => {
    const incoming = join(root, incomingFolder, randomUUID());
    mkdirSync(dirname(incoming), { recursive: true });
    return incoming;
  };
  /** Keeps what lies at an incoming path once under its hash. */
  const keepIncoming = async (incoming: string, sha256: string) => {
    if (await exists(path(sha256))) {
      await rm(incoming);
      // Wanted again, and so no left-over that a sweep may take.
      const now = new Date();
      await utimes(path(sha256), now, now);
    } else await settle(incoming, path(sha256));
  };
  /** Leaves nothing behind where the work fails. Awaits nothing before the work has begun: a stream may fail at once. */
  const orNothing = async <T>(work: (incoming: string) => Promise<T>): Promise<T> => {
    const incoming = newIncoming();
    try {
      return await work(incoming);
    } catch (error) {
      await rm(incoming, { force: true });
      throw error;
    }
  };
  return {
    path,
    derivedPath,
    read: (sha256) => readFile(path(sha256)),
    // eslint-disable-next-line no-restricted-syntax -- whoever asks for it hands it on in the same tick
    stream: (sha256) => createReadStream(path(sha256)),
    has: (sha256) => exists(path(sha256)),
    keep: (stream) =>
      orNothing(async (incoming) => {
        const hash = createHash("sha256");
        let bytes = 0;
        const measure = new Transform({
          transform(chunk: Buffer, _encoding, done) {
            hash.update(chunk);
            bytes += chunk.length;
            done(null, chunk);
          },
        });
        await pipeline(stream, measure, createWriteStream(incoming, { flags: "wx" }));
        const sha256 = hash.digest("hex");
        await keepIncoming(incoming, sha256);
        return { sha256, bytes };
      }),
    make: (write) =>
      orNothing(async (incoming) => {
        await write(incoming);
        const sha256 = await hashOf(incoming);
        if (!sha256) throw new Error("Nothing was written.");
        const { size: bytes } = await stat(incoming);
        await keepIncoming(incoming, sha256);
        return { sha256, bytes };
      }),
    writeDerived: (name, data) =>
      orNothing(async (incoming) => {
        await writeFile(incoming, data);
        await settle(incoming, derivedPath(name));
      }),
  };
}

let made: FileStore | undefined;

/** The process's store, in its data folder. */
export function fileStore(): FileStore {
  return (made ??= folderStore(settings().dataFolder));
}

/** Moves a finished file to its place after its bytes have reached the disk. */
async function settle(from: string, to: string): Promise<void> {
  const handle = await open(from, "r");
  await handle.sync();
  await handle.close();
  await mkdir(dirname(to), { recursive: true });
  await rename(from, to);
}

async function exists(path: string): Promise<boolean> {
  return stat(path).then(
    () => true,
    () => false,
  );
}
