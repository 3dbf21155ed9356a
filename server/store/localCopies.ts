import { randomUUID } from "node:crypto";
import { createWriteStream } from "node:fs";
import { mkdir, readdir, rename, rm, stat, utimes } from "node:fs/promises";
import { join } from "node:path";
import { pipeline } from "node:stream/promises";
import type { Readable } from "node:stream";
import { hashOf } from "#server/store/hashOf";

/** What was used within this time is kept, whatever room it takes: work may be reading it. */
const IN_USE_MS = 3600_000;
/** Room is made no more often than this: each time all copies are looked at. */
const LOOK_EVERY_MS = 60_000;

/**
 * Copies on this machine of files that lie elsewhere, by hash; the longest unused go where they take more than so many bytes. Several
 * processes may share them.
 */
export function localCopies(folder: string, mostBytes: number, lookEveryMs = LOOK_EVERY_MS) {
  let looked = -Infinity;
  const path = (sha256: string) => join(folder, sha256);
  const coming = new Map<string, Promise<void>>();

  const fetchCopy = async (sha256: string, open: () => Promise<Readable | undefined>) => {
    await mkdir(folder, { recursive: true });
    const incoming = join(folder, `.incoming-${randomUUID()}`);
    try {
      const content = await open();
      if (!content) throw Object.assign(new Error(`The store has no file ${sha256}.`), { code: "ENOENT" });
      await pipeline(content, createWriteStream(incoming, { flags: "wx" }));
      if ((await hashOf(incoming)) !== sha256)
        throw new Error(`The store has other bytes under ${sha256} than its hash says.`);
      await rename(incoming, path(sha256));
    } finally {
      await rm(incoming, { force: true });
    }
    await makeRoom();
  };

  const makeRoom = async () => {
    if (performance.now() - looked < lookEveryMs) return;
    looked = performance.now();
    const copies: { at: string; bytes: number; usedAt: number }[] = [];
    for (const name of await readdir(folder)) {
      const facts = await stat(join(folder, name)).catch(() => undefined);
      if (facts?.isFile()) copies.push({ at: join(folder, name), bytes: facts.size, usedAt: facts.mtimeMs });
    }
    let taken = copies.reduce((sum, { bytes }) => sum + bytes, 0);
    for (const { at, bytes, usedAt } of copies.sort((a, b) => a.usedAt - b.usedAt)) {
      if (taken <= mostBytes || Date.now() - usedAt < IN_USE_MS) return;
      await rm(at, { force: true });
      taken -= bytes;
    }
  };

  return {
    path,
    /** Makes sure that a copy is there, and that it stays for the next hour. @param open the content, or undefined where there is none */
    async bring(sha256: string, open: () => Promise<Readable | undefined>): Promise<void> {
      const now = new Date();
      const isThere = await utimes(path(sha256), now, now).then(
        () => true,
        () => false,
      );
      if (isThere) return;
      const begun = coming.get(sha256) ?? fetchCopy(sha256, open);
      coming.set(sha256, begun);
      await begun.finally(() => coming.delete(sha256));
    },
    /** Takes a file of this machine for a copy, in place of fetching it. */
    async take(sha256: string, from: string): Promise<void> {
      await mkdir(folder, { recursive: true });
      await rename(from, path(sha256));
      await makeRoom();
    },
  };
}
