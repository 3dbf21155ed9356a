import { mkdtemp, readdir, rm, stat, writeFile } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { Readable } from "node:stream";
import { afterEach, beforeEach, expect, test } from "@jest/globals";
import { folderStore, type FileStore } from "#server/store/store";

let folder: string;
let store: FileStore;
beforeEach(async () => {
  folder = await mkdtemp(join(tmpdir(), "kalonomy-store-"));
  store = folderStore(folder);
});
afterEach(() => rm(folder, { recursive: true }));

test("keeps the same content once, also when it comes twice at the same time", async () => {
  const kept = await Promise.all([1, 2, 3].map(() => store.keep(Readable.from(["some ", "bytes"]))));
  expect(new Set(kept.map(({ sha256 }) => sha256)).size).toBe(1);
  expect(kept[0].bytes).toBe(10);
  expect((await store.read(kept[0].sha256)).toString()).toBe("some bytes");
  expect(await readdir(join(folder, "incoming"))).toEqual([]);
});

test("a stream that breaks leaves nothing behind", async () => {
  const breaking = Readable.from(
    (function* () {
      yield "first half";
      throw new Error("line dropped");
    })(),
  );
  await expect(store.keep(breaking)).rejects.toThrow("line dropped");
  expect(await readdir(join(folder, "incoming"))).toEqual([]);
  await expect(stat(join(folder, "files"))).rejects.toThrow();
});

test("what is made at a path of its own is kept under its hash, or leaves nothing behind", async () => {
  const made = await store.make((path) => writeFile(path, "some bytes"));
  expect(made).toEqual(await store.keep(Readable.from(["some bytes"])));
  await expect(
    store.make(async (path) => {
      await writeFile(path, "half");
      throw new Error("cannot be encoded");
    }),
  ).rejects.toThrow("cannot be encoded");
  await expect(store.make(() => Promise.resolve())).rejects.toThrow("Nothing was written");
  expect(await readdir(join(folder, "incoming"))).toEqual([]);
});

test("a derived file is whole or not there, and can be written again", async () => {
  await store.writeDerived("ab-64.webp", Buffer.from("one"));
  await store.writeDerived("ab-64.webp", Buffer.from("two"));
  expect((await stat(store.derivedPath("ab-64.webp"))).size).toBe(3);
});
