import { mkdtemp, rm, writeFile } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { text } from "node:stream/consumers";
import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import { ARCHIVE_LIMITS, looksLikeArchive, newBudget, readArchive } from "#server/opening/openArchive";
import { zipOf } from "#server/testing/testStudio";

let folder: string;
beforeAll(async () => (folder = await mkdtemp(join(tmpdir(), "kalonomy-zip-"))));
afterAll(() => rm(folder, { recursive: true }));

const CENTRAL = Buffer.from("PK\x01\x02", "latin1");
const LOCAL = Buffer.from("PK\x03\x04", "latin1");

/** A zip whose headers have been tampered with. `at` counts from the header's signature. */
async function tampered(
  files: Record<string, string>,
  change: (zip: Buffer, header: number, isCentral: boolean) => void,
): Promise<Buffer> {
  const zip = await zipOf(files);
  for (const [signature, isCentral] of [
    [LOCAL, false],
    [CENTRAL, true],
  ] as const)
    for (let at = zip.indexOf(signature); at !== -1; at = zip.indexOf(signature, at + 4))
      change(zip, at, isCentral);
  return zip;
}

async function read(zip: Buffer, budget = newBudget(zip.length)) {
  const path = join(folder, `${Math.random()}.zip`);
  await writeFile(path, zip);
  const files: Record<string, string> = {};
  const refused: Record<string, string> = {};
  let bytes = 0;
  await readArchive(
    path,
    async (file) => {
      files[file.name] = await file.read(text);
      bytes += files[file.name]!.length;
    },
    (name, reason) => (refused[name] = reason),
    budget,
  );
  return { files, refused, bytes };
}

/** Replaces a name by another of the same length, wherever it stands. */
function rename(zip: Buffer, from: string, to: string): Buffer {
  const [a, b] = [Buffer.from(from), Buffer.from(to, "latin1")];
  if (a.length !== b.length) throw new Error("Names of unequal length.");
  for (let at = zip.indexOf(a); at !== -1; at = zip.indexOf(a)) b.copy(zip, at);
  return zip;
}

/** The only entry of a zip, listed many times over: as in an archive that means harm, all share the same bytes. */
function listedAgain(zip: Buffer, times: number): Buffer {
  const from = zip.indexOf(CENTRAL);
  const to = zip.indexOf(Buffer.from("PK\x05\x06", "latin1"));
  const list = Buffer.concat(Array<Buffer>(times).fill(zip.subarray(from, to)));
  const end = Buffer.alloc(56 + 20 + 22);
  // The long end record (zip64) has the number that the short one cannot hold, then comes where that is.
  end.write("PK\x06\x06", 0, "latin1");
  end.writeBigUInt64LE(44n, 4);
  end.writeBigUInt64LE(BigInt(times), 24);
  end.writeBigUInt64LE(BigInt(times), 32);
  end.writeBigUInt64LE(BigInt(list.length), 40);
  end.writeBigUInt64LE(BigInt(from), 48);
  end.write("PK\x06\x07", 56, "latin1");
  end.writeBigUInt64LE(BigInt(from + list.length), 64);
  end.writeUInt32LE(1, 72);
  end.write("PK\x05\x06", 76, "latin1");
  end.fill(0xff, 76 + 8, 76 + 20);
  return Buffer.concat([zip.subarray(0, from), list, end]);
}

describe("readArchive", () => {
  test("gives the files with their folders, and no folder as a file", async () => {
    const { files, refused } = await read(
      await zipOf({ "oak/oak.png": "one", "oak/deep/er/oak_n.png": "two", "elm.png": "" }),
    );
    expect(files).toEqual({ "oak/oak.png": "one", "oak/deep/er/oak_n.png": "two", "elm.png": "" });
    expect(refused).toEqual({});
  });

  test.each([
    ["xx/xx/xx/etc/passwd", "../../../etc/passwd"],
    ["x/inside/xx/out.png", "x/inside/../out.png"],
    ["xabsolute.png", "/absolute.png"],
    ["xx/drive.png", "C:/drive.png"],
    ["xx/windows.png", "..\\windows.png"],
  ])("refuses a name that leads out of the archive: %s as %s", async (plain, hostile) => {
    const { files, refused } = await read(
      rename(await zipOf({ [plain]: "evil", "good.png": "good" }), plain, hostile),
    );
    expect(files).toEqual({ "good.png": "good" });
    expect(Object.values(refused)).toEqual([expect.stringContaining("leads out of the archive")]);
  });

  test("reads names in UTF-8 and in the old single-byte way", async () => {
    const { files } = await read(await zipOf({ "Ziegel größe 木.png": "a" }));
    expect(Object.keys(files)).toEqual(["Ziegel größe 木.png"]);
    const old = await tampered({ "gr__e.png": "b" }, (zip, at, isCentral) =>
      zip.writeUInt16LE(zip.readUInt16LE(at + (isCentral ? 8 : 6)) & ~0x800, at + (isCentral ? 8 : 6)),
    );
    expect(Object.keys((await read(rename(old, "gr__e.png", "gr\xf6\xdfe.png"))).files)).toEqual([
      "größe.png",
    ]);
  });

  test("refuses encrypted entries and links, each with the reason, and goes on", async () => {
    const encrypted = await tampered({ "secret.png": "?" }, (zip, at, isCentral) => {
      const flags = at + (isCentral ? 8 : 6);
      zip.writeUInt16LE(zip.readUInt16LE(flags) | 1, flags);
    });
    expect((await read(encrypted)).refused["secret.png"]).toContain("encrypted");
    const link = await tampered({ "link.png": "/etc/passwd" }, (zip, at, isCentral) => {
      if (isCentral) zip.writeUInt32LE((0o120777 << 16) >>> 0, at + 38);
    });
    const { files, refused } = await read(link);
    expect(files).toEqual({});
    expect(refused).toEqual({ "link.png": expect.stringContaining("link") });
  });

  test("an entry that lies about its size is an error of that entry", async () => {
    const liar = await tampered({ "liar.png": "twelve bytes" }, (zip, at, isCentral) => {
      if (isCentral) zip.writeUInt32LE(5, at + 24);
    });
    await expect(read(liar)).rejects.toThrow("damaged inside the zip");
    // One that inflates to more than it says errs in the tick after it is opened: nobody may have awaited anything by then.
    const more = await tampered({ "more.png": "x".repeat(400) }, (zip, at, isCentral) => {
      if (isCentral) zip.writeUInt32LE(392, at + 24);
    });
    await expect(read(more)).rejects.toThrow("damaged inside the zip");
  });

  test("an entry whose checksum does not fit is an error of that entry, stored or deflated", async () => {
    const wrong = await tampered({ "sum.png": "some content" }, (zip, at, isCentral) => {
      if (isCentral) zip.writeUInt32LE(zip.readUInt32LE(at + 16) ^ 1, at + 16);
    });
    await expect(read(wrong)).rejects.toThrow("damaged inside the zip");
    const stored = await zipOf({ "plain.png": "some content" }, { compress: false });
    stored.write("other", stored.indexOf("some content"));
    await expect(read(stored)).rejects.toThrow("damaged inside the zip");
  });

  test("many small entries, each packed a thousandfold, do not add up to more than the zip's size allows", async () => {
    const zip = listedAgain(await zipOf({ "zeros.png": Buffer.alloc(60_000) }), 2600);
    const { refused, bytes } = await read(zip);
    expect(bytes).toBeLessThanOrEqual(ARCHIVE_LIMITS.anyWhole + ARCHIVE_LIMITS.wholeRatio * zip.length);
    expect(bytes).toBeGreaterThan(ARCHIVE_LIMITS.anyWhole / 2);
    expect(Object.keys(refused).length).toBeGreaterThan(0);
    expect((await read(await zipOf({ "zeros.png": Buffer.alloc(900_000) }))).refused["zeros.png"]).toMatch(
      /times its size/,
    );
  });

  test("of 100,000 entries none is read, and the sentence says how many are", async () => {
    await expect(read(listedAgain(await zipOf({ "a.png": "one" }), 100_000))).rejects.toThrow(
      `holds 100000 entries; of one download, with the zips inside it, up to ${ARCHIVE_LIMITS.entries}`,
    );
  });

  test("an entry that unpacks to a thousand times its size is refused, and so is more than the budget", async () => {
    const { files, refused } = await read(
      await zipOf({ "zeros.png": Buffer.alloc(5_000_000), "good.png": "good" }),
    );
    expect(files).toEqual({ "good.png": "good" });
    expect(refused["zeros.png"]).toMatch(/unpack to (9|10)\d\d times its size/);
    // Archives inside one another draw on the same budget, so that many small ones are as bounded as a large one.
    const budget = { entries: 3, bytes: 9 };
    expect((await read(await zipOf({ "a.png": "12345", "b.png": "6789" }), budget)).refused).toEqual({});
    expect((await read(await zipOf({ "c.png": "!" }), budget)).refused["c.png"]).toContain(
      "more than its size allows",
    );
    await expect(read(await zipOf({ "d.png": "" }), budget)).rejects.toThrow("entries");
  });

  test("says in a sentence that an archive is empty or damaged", async () => {
    await expect(read(await zipOf({}))).rejects.toThrow("The zip is empty.");
    const whole = await zipOf({ "a.png": "content" });
    await expect(read(whole.subarray(0, whole.length - 10))).rejects.toThrow("damaged");
    await expect(read(Buffer.concat([LOCAL, Buffer.alloc(100)]))).rejects.toThrow("damaged");
    const broken = await tampered({ "a.png": "content" }, (zip, at, isCentral) => {
      if (isCentral) zip.writeUInt8(0, at);
    });
    await expect(read(broken)).rejects.toThrow("damaged");
  });
});

test("an archive is told by its first bytes, whatever it is called", async () => {
  const looks = async (content: Buffer | string) => {
    const path = join(folder, "whatever.png");
    await writeFile(path, content);
    return looksLikeArchive(path);
  };
  expect(await looks(await zipOf({ a: "b" }))).toBe(true);
  expect(await looks(await zipOf({}))).toBe(true);
  expect(await looks("PK is how this text begins")).toBe(false);
  expect(await looks("")).toBe(false);
});
