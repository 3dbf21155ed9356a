import { mkdtemp, readdir, readFile, rm, stat, utimes, writeFile } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { Readable } from "node:stream";
import { buffer } from "node:stream/consumers";
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, test } from "@jest/globals";
import type { Bucket } from "#server/store/bucket";
import type { FileStore, StoredFile, StorePart } from "#server/store/fileStore";
import { folderStore } from "#server/store/folderStore";
import { localCopies } from "#server/store/localCopies";
import { objectStore } from "#server/store/objectStore";
import { s3Bucket } from "#server/store/s3Bucket";
import { diskTrouble, isDatabaseAway, isOwnFault } from "#server/ownFault";
import { openBucketServer } from "#server/testing/bucketServer";

/** A real object store in place of the test's own, with a bucket “studio” and its keys in the SDK's variables (`bench/store.ts`). */
const REAL = process.env.KALONOMY_TEST_S3;
let folder: string;
let server: Awaited<ReturnType<typeof openBucketServer>> | undefined;
let endpoint: string;
const bucketOf = (
  prefix: string,
  options: { links?: boolean; name?: string; encryption?: boolean } = {},
): Bucket =>
  s3Bucket({
    name: options.name ?? "studio",
    prefix,
    endpoint,
    region: "us-east-1",
    checksums: REAL === undefined ? "WHEN_REQUIRED" : "WHEN_SUPPORTED",
    ...(options.encryption && { encryption: "AES256" }),
    links: options.links ?? false,
  });

beforeAll(async () => {
  if (REAL === undefined) server = await openBucketServer();
  endpoint = REAL ?? server!.endpoint;
});
afterAll(() => server?.close());
beforeEach(async () => {
  folder = await mkdtemp(join(tmpdir(), "kalonomy-store-"));
});
afterEach(() => rm(folder, { recursive: true }));

const text = (...parts: string[]) => Readable.from(parts.map((part) => Buffer.from(part)));
const listed = async (store: FileStore, part: StorePart) => {
  const found: StoredFile[] = [];
  for await (const file of store.list(part)) found.push(file);
  return found;
};
const SOME_BYTES = "0d22cdcc10e6d049dbe1af5123d50873fdfc1a4f58306e58cb6241be9472014d";

const run = Date.now().toString(36);
let prefixes = 0;
const STORES: [string, () => FileStore][] = [
  ["a folder", () => folderStore(folder)],
  ["a bucket", () => objectStore(bucketOf(`${run}-${prefixes++}/`), folder)],
];

describe.each(STORES)("%s", (_, open) => {
  let store: FileStore;
  beforeEach(() => void (store = open()));

  test("keeps the same content once, also when it comes twice at the same time", async () => {
    const kept = await Promise.all([1, 2, 3].map(() => store.keep(text("some ", "bytes"))));
    expect(new Set(kept.map(({ sha256 }) => sha256))).toEqual(new Set([SOME_BYTES]));
    expect(kept[0].bytes).toBe(10);
    expect((await store.read(SOME_BYTES)).toString()).toBe("some bytes");
    expect(await listed(store, "files")).toEqual([
      {
        path: `files/0d/22/${SOME_BYTES}`,
        bytes: 10,
        changedAt: expect.any(Number),
      },
    ]);
    expect(await listed(store, "incoming")).toEqual([]);
  });

  test("a stream that breaks leaves nothing behind", async () => {
    const breaking = Readable.from(
      (function* () {
        yield Buffer.from("first half");
        throw new Error("line dropped");
      })(),
    );
    await expect(store.keep(breaking)).rejects.toThrow("line dropped");
    expect(await listed(store, "incoming")).toEqual([]);
    expect(await listed(store, "files")).toEqual([]);
  });

  test("what is made at a path of its own is kept under its hash, or leaves nothing behind", async () => {
    expect(await store.make((path) => writeFile(path, "some bytes"))).toEqual({
      sha256: SOME_BYTES,
      bytes: 10,
    });
    await expect(
      store.make(async (path) => {
        await writeFile(path, "half");
        throw new Error("cannot be encoded");
      }),
    ).rejects.toThrow("cannot be encoded");
    await expect(store.make(() => Promise.resolve())).rejects.toThrow("Nothing was written");
    expect(await listed(store, "incoming")).toEqual([]);
  });

  test("takes a finished file over from its path", async () => {
    const path = join(folder, "upload");
    await writeFile(path, "some bytes");
    expect(await store.adopt(path)).toEqual({ sha256: SOME_BYTES, bytes: 10 });
    await expect(stat(path)).rejects.toThrow("ENOENT");
    expect((await store.read(SOME_BYTES)).toString()).toBe("some bytes");
  });

  test("keeps what other work has put into a folder, also where that work fails half-way", async () => {
    const put = (root: string, incoming: string, content: string) =>
      folderStore(root, incoming).keep(text(content));
    const out = await store.collect(async (root, incoming) => [
      await put(root, incoming, "one"),
      await put(root, incoming, "two"),
    ]);
    expect((await Promise.all(out.map(({ sha256 }) => store.read(sha256)))).join(" ")).toBe("one two");
    await expect(
      store.collect(async (root, incoming) => {
        await put(root, incoming, "three");
        throw new Error("ended");
      }),
    ).rejects.toThrow("ended");
    expect(await listed(store, "incoming")).toEqual([]);
  });

  test("gives a whole file and a part of it as a stream, and an error for one that is not there", async () => {
    await store.keep(text("some bytes"));
    expect((await buffer(store.stream(SOME_BYTES))).toString()).toBe("some bytes");
    expect((await buffer(store.stream(SOME_BYTES, { start: 5, end: 8 }))).toString()).toBe("byte");
    await expect(buffer(store.stream("0".repeat(64)))).rejects.toMatchObject({ code: "ENOENT" });
    expect([await store.has(SOME_BYTES), await store.has("0".repeat(64))]).toEqual([true, false]);
  });

  test("gives paths to work that needs them", async () => {
    const { sha256: two } = await store.keep(text("two"));
    await store.keep(text("some bytes"));
    const read = await store.withLocal([SOME_BYTES, two, two], async (pathOf) =>
      (await Promise.all([SOME_BYTES, two].map((sha256) => readFile(pathOf(sha256))))).join(" "),
    );
    expect(read).toBe("some bytes two");
  });

  test("says what lies under a hash", async () => {
    await store.keep(text("some bytes"));
    expect(await store.check(SOME_BYTES)).toBe(SOME_BYTES);
    expect(await store.check("0".repeat(64))).toBeUndefined();
  });

  test("a derived file is whole or not there, and can be written again", async () => {
    expect(await store.readDerived("ab-64.webp")).toBeUndefined();
    expect(await store.hasDerived("ab-64.webp")).toBe(false);
    await store.writeDerived("ab-64.webp", Buffer.from("one"));
    await store.writeDerived("ab-64.webp", Buffer.from("three"));
    expect((await store.readDerived("ab-64.webp"))!.toString()).toBe("three");
    expect(await store.hasDerived("ab-64.webp")).toBe(true);
    const local = await store.withLocalDerived(["ab-64.webp", "cd-64.webp"], async (pathOf) => [
      (await readFile(pathOf("ab-64.webp"))).toString(),
      await readFile(pathOf("cd-64.webp")).catch((error: NodeJS.ErrnoException) => error.code),
    ]);
    expect(local).toEqual(["three", "ENOENT"]);
    expect(await listed(store, "derived")).toMatchObject([{ path: "derived/ab/ab-64.webp", bytes: 5 }]);
  });

  test("removes what is old enough, and nothing that was wanted just now", async () => {
    await store.keep(text("some bytes"));
    const [{ path }] = await listed(store, "files");
    expect(await store.remove(path, 60_000)).toBe(false);
    await new Promise((resolve) => setTimeout(resolve, 5));
    expect(await store.remove(path, -1)).toBe(true);
    expect(await store.has(SOME_BYTES)).toBe(false);
    expect(await store.remove(path, -1)).toBe(false);
  });
});

describe("a bucket", () => {
  test("keeps a file of several parts, also when it comes again", async () => {
    const store = objectStore(bucketOf(`${run}-parts/`), folder);
    const large = Buffer.alloc(11 * 2 ** 20, "large");
    const { sha256, bytes } = await store.keep(Readable.from([large]));
    expect(bytes).toBe(large.length);
    await store.keep(Readable.from([large]));
    expect(await store.check(sha256)).toBe(sha256);
  });

  test("works on no bytes but those that the hash names", async () => {
    const bucket = bucketOf(`${run}-wrong/`);
    await bucket.putBytes(`files/0d/22/${SOME_BYTES}`, Buffer.from("some other bytes"));
    const store = objectStore(bucket, folder);
    await expect(store.withLocal([SOME_BYTES], () => Promise.resolve())).rejects.toThrow("other bytes");
    expect(await store.check(SOME_BYTES)).not.toBe(SOME_BYTES);
    expect(await readdir(join(folder, "copies"))).toEqual([]);
    // Sent in again, it is put right: the length differs.
    await store.keep(text("some bytes"));
    expect(await store.check(SOME_BYTES)).toBe(SOME_BYTES);
  });

  test("gives links only where it is told to, and they hold without a sign-in", async () => {
    await objectStore(bucketOf(`${run}-links/`), folder).keep(text("some bytes"));
    expect(
      await objectStore(bucketOf(`${run}-links/`), folder).link(SOME_BYTES, "image/png"),
    ).toBeUndefined();
    const link = await objectStore(bucketOf(`${run}-links/`, { links: true }), folder).link(
      SOME_BYTES,
      "image/png",
    );
    const answer = await fetch(link!);
    expect(await answer.text()).toBe("some bytes");
    expect(answer.headers.get("content-disposition")).toBe("attachment");
    expect(link).toContain("X-Amz-Expires=300");
  });

  test("that is not there is an error, and not a missing file", async () => {
    const store = objectStore(bucketOf("", { name: "nowhere" }), folder);
    const trouble = await store.keep(text("some bytes")).catch((error: unknown) => error);
    expect([isOwnFault(trouble), isDatabaseAway(trouble)]).toEqual([true, false]);
    expect(diskTrouble(trouble)).toContain("object store");
    expect(await listed(store, "incoming")).toEqual([]);
  });

  test("that takes what is to be encrypted and does not encrypt it is refused, and keeps nothing of it", async () => {
    const store = objectStore(bucketOf(`${run}-secret/`, { encryption: true }), folder);
    await expect(store.keep(text("some bytes"))).rejects.toThrow("does not encrypt");
    expect(await store.check(SOME_BYTES)).toBeUndefined();
    expect(await listed(store, "incoming")).toEqual([]);
  });

  test("that cannot be reached is no database that is away", async () => {
    const away = s3Bucket({
      name: "studio",
      prefix: "",
      endpoint: "http://127.0.0.1:9",
      region: "us-east-1",
      checksums: "WHEN_REQUIRED",
      links: false,
    });
    const trouble = await away.facts("files/x").catch((error: unknown) => error);
    expect([isOwnFault(trouble), isDatabaseAway(trouble)]).toEqual([true, false]);
  });
});

(REAL === undefined ? describe.skip : describe)("a real gateway", () => {
  test("takes what comes again for new", async () => {
    const store = objectStore(bucketOf(`${run}-again/`), folder);
    await store.keep(text("some bytes"));
    const [before] = await listed(store, "files");
    await new Promise((resolve) => setTimeout(resolve, 1100));
    await store.keep(text("some bytes"));
    const [after] = await listed(store, "files");
    expect(after.changedAt).toBeGreaterThan(before.changedAt);
  });
});

describe("copies on this machine", () => {
  const hash = (n: number) => String(n).repeat(64);
  const age = (path: string, hours: number) => {
    const at = new Date(Date.now() - hours * 3600_000);
    return utimes(path, at, at);
  };

  test("the longest unused go where there is no room, but none that may be in use", async () => {
    const copies = localCopies(join(folder, "copies"), 8, 0);
    for (const n of [1, 2, 3]) {
      await writeFile(join(folder, "made"), "1234");
      await copies.take(hash(n), join(folder, "made"));
      if (n < 3) await age(copies.path(hash(n)), 10 - n);
    }
    expect((await readdir(join(folder, "copies"))).sort()).toEqual([hash(2), hash(3)]);
    for (const n of [4, 5]) {
      await writeFile(join(folder, "made"), "1234");
      await copies.take(hash(n), join(folder, "made"));
    }
    // Three of the last hour are more than there is room for, and stay.
    expect((await readdir(join(folder, "copies"))).sort()).toEqual([3, 4, 5].map(hash));
  });

  test("a file that two wait for is fetched once", async () => {
    const copies = localCopies(join(folder, "copies"), 100);
    let fetched = 0;
    const open = () => {
      fetched++;
      return Promise.resolve(text("some bytes"));
    };
    await Promise.all([1, 2, 3].map(() => copies.bring(SOME_BYTES, open)));
    await copies.bring(SOME_BYTES, open);
    expect(fetched).toBe(1);
  });
});
