import { createReadStream, createWriteStream, mkdirSync } from "node:fs";
import { rm, stat } from "node:fs/promises";
import { join } from "node:path";
import { Readable } from "node:stream";
import { json } from "node:stream/consumers";
import { pipeline } from "node:stream/promises";
import { DataStore, ERRORS, Upload } from "@tus/server";
import { z } from "zod";
import type { UploadPlace } from "#server/intake/receiving/uploadPlace";
import type { Bucket } from "#server/store/bucket";
import { hashOf } from "#server/store/hashOf";
import { fileStore } from "#server/store/store";

const ROOT = "uploads/";
const HEAD = ".json";
const headKey = (id: string) => `${ROOT}${id}${HEAD}`;
const partsKey = (id: string) => `${ROOT}${id}/`;
/** Parts are listed in the order of their first bytes. */
const partKey = (id: string, offset: number) => `${partsKey(id)}${String(offset).padStart(15, "0")}`;

const headSchema = z.object({
  id: z.string(),
  size: z.number().optional(),
  metadata: z.record(z.string(), z.string().nullable()).optional(),
});

/**
 * Uploads in a bucket, part by part, so that another machine goes on where one broke off. What came last and makes an upload whole stays
 * here: most come in one part, and are written once.
 * @param folder of this machine alone, for what is coming in
 */
export function bucketUploads(bucket: Bucket, folder: string): UploadPlace {
  mkdirSync(folder, { recursive: true });
  const local = (id: string) => join(folder, id);

  async function partsOf(id: string): Promise<{ key: string; bytes: number }[]> {
    const parts: { key: string; bytes: number }[] = [];
    for await (const { path, bytes } of bucket.list(partsKey(id))) parts.push({ key: path, bytes });
    return parts.sort((a, b) => (a.key < b.key ? -1 : 1));
  }
  async function* bytesOf(parts: { key: string }[], last: string): AsyncGenerator<Buffer> {
    for (const { key } of parts) {
      const part = await bucket.get(key);
      if (!part) throw new Error(`The part ${key} of an upload is gone.`);
      yield* part as AsyncIterable<Buffer>;
    }
    // eslint-disable-next-line no-restricted-syntax -- it is read in this very tick, and its trouble is the reader's
    yield* createReadStream(last) as AsyncIterable<Buffer>;
  }

  class Parts extends DataStore {
    override extensions = ["creation", "creation-with-upload", "termination"];
    override async create(upload: Upload): Promise<Upload> {
      const { id, size, metadata } = upload;
      await bucket.putBytes(headKey(id), Buffer.from(JSON.stringify({ id, size, metadata })));
      return upload;
    }
    override async getUpload(id: string): Promise<Upload> {
      const head = await bucket.get(headKey(id));
      if (!head) throw ERRORS.FILE_NOT_FOUND;
      const offset = (await partsOf(id)).reduce((sum, { bytes }) => sum + bytes, 0);
      return new Upload({ ...headSchema.parse(await json(head)), offset });
    }
    override async write(stream: Readable, id: string, offset: number): Promise<number> {
      await pipeline(stream, createWriteStream(local(id)));
      const { size: bytes } = await stat(local(id));
      const isWhole = offset + bytes === (await this.getUpload(id)).size;
      if (!isWhole) {
        if (bytes > 0) await bucket.put(partKey(id, offset), local(id), (await hashOf(local(id)))!);
        await rm(local(id));
      }
      return offset + bytes;
    }
    override remove = (id: string) => drop(id);
  }

  async function drop(id: string): Promise<void> {
    await rm(local(id), { force: true });
    for (const { key } of await partsOf(id)) await bucket.remove(key);
    await bucket.remove(headKey(id));
  }

  return {
    protocol: new Parts(),
    async take({ id, size }) {
      const parts = await partsOf(id);
      if (parts.length === 0) return fileStore().adopt(local(id));
      const kept = await fileStore().keep(Readable.from(bytesOf(parts, local(id))));
      if (kept.bytes !== size) throw new Error(`Of ${size} bytes ${kept.bytes} are there.`);
      return kept;
    },
    drop,
    async ids() {
      const found = new Set<string>();
      for await (const { path } of bucket.list(ROOT))
        found.add(path.slice(ROOT.length).replace(/\/.*$|\.json$/, ""));
      return [...found];
    },
  };
}
