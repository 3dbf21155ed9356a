import { createHash, randomUUID } from "node:crypto";
import { mkdir, rm, writeFile } from "node:fs/promises";
import { join } from "node:path";
import { PassThrough, type Readable } from "node:stream";
import { buffer } from "node:stream/consumers";
import { pipeline } from "node:stream/promises";
import type { Bucket } from "#server/store/bucket";
import { derivedPath, keptPath, type FileStore, type Kept } from "#server/store/fileStore";
import { folderStore } from "#server/store/folderStore";
import { localCopies } from "#server/store/localCopies";

const MOST_COPIES = 32 * 2 ** 30;

/**
 * Files in a bucket. What comes is made whole on this machine first, since its hash is its name; what is worked on is copied here and
 * compared with its hash.
 * @param folder of this machine alone, for what is under way and for copies
 */
export function objectStore(bucket: Bucket, folder: string, mostCopies = MOST_COPIES): FileStore {
  const here = folderStore(folder);
  const copies = localCopies(join(folder, "copies"), mostCopies);
  const scratch = () => join(folder, "incoming", randomUUID());

  /** Puts what lies in a folder store of this machine into the bucket; it stays here as a copy. */
  const putKept = async (landed: string, { sha256, bytes }: Kept): Promise<Kept> => {
    const key = keptPath(sha256);
    const there = await bucket.facts(key);
    // What broke off while it was put is not there; what has another length is put anew.
    if (there?.bytes === bytes) await bucket.touch(key);
    else await bucket.put(key, landed, sha256);
    await copies.take(sha256, landed);
    return { sha256, bytes };
  };
  /** Work that keeps files in a folder store of its own, which is taken away afterwards. */
  const landing = async <T>(work: (land: ReturnType<typeof folderStore>, root: string) => Promise<T>) => {
    const root = scratch();
    try {
      return await work(folderStore(root), root);
    } finally {
      await rm(root, { recursive: true, force: true });
    }
  };
  const keepBy = (how: (land: ReturnType<typeof folderStore>) => Promise<Kept>) =>
    landing(async (land) => {
      const kept = await how(land);
      return putKept(land.path(kept.sha256), kept);
    });
  const open = async (sha256: string, range?: { start: number; end: number }) => {
    const content = await bucket.get(keptPath(sha256), range);
    if (!content) throw Object.assign(new Error(`The store has no file ${sha256}.`), { code: "ENOENT" });
    return content;
  };
  return {
    keep: (stream) => keepBy((land) => land.keep(stream)),
    make: (write) => keepBy((land) => land.make(write)),
    adopt: (path) => keepBy((land) => land.adopt(path)),
    collect: (work) =>
      landing(async (land, root) => {
        const out = await work(root, "incoming");
        for await (const { path, bytes } of land.list("files"))
          await putKept(join(root, path), { sha256: path.slice(path.lastIndexOf("/") + 1), bytes });
        return out;
      }),
    read: async (sha256) => buffer(await open(sha256)),
    stream(sha256, range) {
      const out = new PassThrough();
      open(sha256, range).then(
        (content) => void pipeline(content, out).catch((error: Error) => out.destroy(error)),
        (error: Error) => out.destroy(error),
      );
      return out;
    },
    has: async (sha256) => (await bucket.facts(keptPath(sha256))) !== undefined,
    async withLocal(hashes, work) {
      for (const sha256 of new Set(hashes)) await copies.bring(sha256, () => bucket.get(keptPath(sha256)));
      return work(copies.path);
    },
    link: (sha256, mediaType) => bucket.link(keptPath(sha256), mediaType),
    async check(sha256) {
      const content = await bucket.get(keptPath(sha256));
      return content && hashOfStream(content);
    },
    writeDerived: (name, data) => bucket.putBytes(derivedPath(name), data),
    async readDerived(name) {
      const content = await bucket.get(derivedPath(name));
      return content && buffer(content);
    },
    hasDerived: async (name) => (await bucket.facts(derivedPath(name))) !== undefined,
    async withLocalDerived(names, work) {
      const root = scratch();
      await mkdir(root, { recursive: true });
      try {
        for (const name of new Set(names)) {
          const content = await bucket.get(derivedPath(name));
          // Missing there is missing here: whoever works with it knows what then.
          if (content) await writeFile(join(root, name), await buffer(content));
        }
        return await work((name) => join(root, name));
      } finally {
        await rm(root, { recursive: true, force: true });
      }
    },
    // What is under way lies on this machine.
    list: (part) => (part === "incoming" ? here.list(part) : bucket.list(`${part}/`)),
    async remove(path, leastAgeMs) {
      if (path.startsWith("incoming/")) return here.remove(path, leastAgeMs);
      const facts = await bucket.facts(path);
      if (!facts || Date.now() - facts.changedAt <= leastAgeMs) return false;
      await bucket.remove(path);
      return true;
    },
  };
}

async function hashOfStream(content: Readable): Promise<string> {
  const hash = createHash("sha256");
  await pipeline(content, hash);
  return hash.digest("hex");
}
