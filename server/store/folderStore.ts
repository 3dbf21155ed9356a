import { createHash, randomUUID } from "node:crypto";
import { createReadStream, createWriteStream, mkdirSync } from "node:fs";
import { mkdir, open, readdir, readFile, rename, rm, stat, utimes, writeFile } from "node:fs/promises";
import { dirname, join, relative } from "node:path";
import { pipeline } from "node:stream/promises";
import { Transform } from "node:stream";
import { derivedPath, keptPath, type FileStore, type StoredFile } from "#server/store/fileStore";
import { hashOf } from "#server/store/hashOf";

/** A store in a folder of this machine, or of one that is mounted; there its files have paths for as long as they are kept. */
export interface FolderStore extends FileStore {
  path(sha256: string): string;
  derivedPath(name: string): string;
}

/**
 * Files in a folder, spread over subfolders by the first digits of the hash.
 * @param incomingFolder inside the root, for what is not whole yet
 */
export function folderStore(root: string, incomingFolder = "incoming"): FolderStore {
  const path = (sha256: string) => join(root, keptPath(sha256));
  const derived = (name: string) => join(root, derivedPath(name));
  /** A path to write at, outside of everything that is kept. */
  const newIncoming = () => {
    const incoming = join(root, incomingFolder, randomUUID());
    mkdirSync(dirname(incoming), { recursive: true });
    return incoming;
  };
  /** Keeps what lies at a path once under its hash. */
  const settleFile = async (from: string, sha256: string) => {
    if (await exists(path(sha256))) {
      await rm(from);
      // Wanted again, and so no left-over that a sweep may take.
      const now = new Date();
      await utimes(path(sha256), now, now);
    } else await settle(from, path(sha256));
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
  const adopt = async (from: string) => {
    const sha256 = await hashOf(from);
    if (!sha256) throw new Error("Nothing was written.");
    const { size: bytes } = await stat(from);
    await settleFile(from, sha256);
    return { sha256, bytes };
  };
  return {
    path,
    derivedPath: derived,
    adopt,
    read: (sha256) => readFile(path(sha256)),
    // eslint-disable-next-line no-restricted-syntax -- whoever asks for it hands it on in the same tick
    stream: (sha256, range) => createReadStream(path(sha256), range),
    has: (sha256) => exists(path(sha256)),
    withLocal: (_hashes, work) => work(path),
    link: () => Promise.resolve(undefined),
    check: (sha256) => hashOf(path(sha256)),
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
        await settleFile(incoming, sha256);
        return { sha256, bytes };
      }),
    make: (write) =>
      orNothing(async (incoming) => {
        await write(incoming);
        return adopt(incoming);
      }),
    async collect(work) {
      const incoming = join("incoming", randomUUID());
      try {
        return await work(root, incoming);
      } finally {
        await rm(join(root, incoming), { recursive: true, force: true });
      }
    },
    writeDerived: (name, data) =>
      orNothing(async (incoming) => {
        await writeFile(incoming, data);
        await settle(incoming, derived(name));
      }),
    readDerived: (name) => readFile(derived(name)).catch(whereMissing),
    hasDerived: (name) => exists(derived(name)),
    withLocalDerived: (_names, work) => work(derived),
    list: (part) => filesUnder(root, join(root, part)),
    async remove(file, leastAgeMs) {
      const facts = await stat(join(root, file)).catch(whereMissing);
      if (!facts || Date.now() - facts.mtimeMs <= leastAgeMs) return false;
      await rm(join(root, file), { force: true });
      return true;
    },
  };
}

/** Moves a finished file to its place after its bytes have reached the disk. */
async function settle(from: string, to: string): Promise<void> {
  const handle = await open(from, "r");
  await handle.sync();
  await handle.close();
  await mkdir(dirname(to), { recursive: true });
  await rename(from, to);
}

async function* filesUnder(root: string, folder: string): AsyncIterable<StoredFile> {
  for (const entry of (await readdir(folder).catch(whereMissing)) ?? []) {
    const path = join(folder, entry);
    // It may go while this looks.
    const facts = await stat(path).catch(whereMissing);
    if (facts?.isDirectory()) yield* filesUnder(root, path);
    else if (facts?.isFile())
      yield { path: relative(root, path), bytes: facts.size, changedAt: facts.mtimeMs };
  }
}

function whereMissing(error: NodeJS.ErrnoException): undefined {
  if (error.code !== "ENOENT") throw error;
}

async function exists(path: string): Promise<boolean> {
  return stat(path).then(
    () => true,
    () => false,
  );
}
