import { randomUUID } from "node:crypto";
import { mkdir, mkdtemp, readFile, rm, stat, utimes, writeFile } from "node:fs/promises";
import { tmpdir } from "node:os";
import { dirname, join } from "node:path";
import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import pg from "pg";
import { openTestStudio, picture, takeIn, type TestStudio } from "#server/testing/testStudio";
import { folderStore } from "#server/store/folderStore";
import { LEAST_AGE_MS } from "./findOrphans";

let studio: TestStudio;
let known: string[];
beforeAll(async () => {
  studio = await openTestStudio();
  const intake = await takeIn(studio, {
    "wall_basecolor.png": await picture("#aa5533", 80),
    "wall_roughness.png": await picture("#777777", 80),
  });
  await studio.api("POST", `/intakes/${intake.id}/accept`, { all: true });
  const { database } = await import("#server/db/database");
  known = (await database().query<{ sha256: string }>("SELECT sha256 FROM files")).rows.map(
    (row) => row.sha256,
  );
});
afterAll(() => studio.close());

const STRAY = "ab".repeat(32);

/** A file of the data folder, so many milliseconds old. */
async function place(path: string, age = 2 * LEAST_AGE_MS): Promise<string> {
  const whole = join(studio.folder, path);
  await mkdir(dirname(whole), { recursive: true });
  await writeFile(whole, "left over");
  const at = new Date(Date.now() - age);
  await utimes(whole, at, at);
  return whole;
}
const isThere = (path: string) =>
  stat(path).then(
    () => true,
    () => false,
  );
const tasks = async () => (await import("#server/main/tasks")).tasks;
const helpers = (attempts: number) => ({ job: { attempts, max_attempts: 4 } }) as never;

describe("a sweep", () => {
  test("says first what would go, and removes only that, once a keeper agrees", async () => {
    const kept = join(studio.folder, "files", known[0].slice(0, 2), known[0].slice(2, 4), known[0]);
    const long = new Date(Date.now() - 2 * LEAST_AGE_MS);
    await utimes(kept, long, long);
    const stray = await place(`files/ab/ab/${STRAY}`);
    const derived = await place(`derived/ab/${STRAY}-color-256`);
    const broken = await place(`incoming/uploads/${randomUUID()}`);
    const young = await place(`incoming/${randomUUID()}`, 1000);
    const begun = await studio.api("POST", "/sweeps");
    expect(begun).toMatchObject({ status: 202, json: { state: "looking" } });
    const { id } = begun.json;
    expect((await studio.api("POST", `/sweeps/${id}/remove`)).status).toBe(409);
    await (await tasks())["sweep-files"]({ sweep: id }, helpers(1));
    const found = (await studio.api("GET", `/sweeps/${id}`)).json;
    expect(found.state).toBe("found");
    expect(found.found.map(({ why }: { why: string }) => why).sort()).toEqual([
      "derived",
      "incoming",
      "unknown",
    ]);
    for (const path of [stray, derived, broken, young, kept]) expect(await isThere(path)).toBe(true);

    // Sent in again in the meantime, it is no left-over any more; and what came since was not agreed to.
    await utimes(derived, new Date(), new Date());
    const later = await place(`files/cd/cd/${"cd".repeat(32)}`);
    expect((await studio.api("POST", `/sweeps/${id}/remove`)).status).toBe(202);
    expect((await studio.api("POST", `/sweeps/${id}/remove`)).status).toBe(409);
    await (await tasks())["sweep-files"]({ sweep: id }, helpers(1));
    expect((await studio.api("GET", `/sweeps/${id}`)).json).toMatchObject({
      state: "removed",
      removed: { files: 2, bytes: 18 },
    });
    expect(await Promise.all([stray, broken, derived, young, kept, later].map(isThere))).toEqual([
      false,
      false,
      true,
      true,
      true,
      true,
    ]);
    // A job that runs twice removes nothing more.
    await (await tasks())["sweep-files"]({ sweep: id }, helpers(1));
    expect(await isThere(later)).toBe(true);
  });
});

describe("the check of all files", () => {
  test("finds what is missing and what is damaged", async () => {
    const { verifyFiles } = await import("./verifyFiles");
    const { database } = await import("#server/db/database");
    const { fileStore } = await import("#server/store/store");
    expect(await verifyFiles(database(), fileStore())).toMatchObject({
      files: known.length,
      missing: [],
      damaged: [],
    });
    const [first, second] = known.map((sha256) => folderStore(studio.folder).path(sha256));
    const [one, two] = [await readFile(first), await readFile(second)];
    await rm(first);
    await writeFile(second, Buffer.concat([two, Buffer.from([0])]));
    expect(await verifyFiles(database(), fileStore())).toMatchObject({
      missing: [known[0]],
      damaged: [known[1]],
    });
    await writeFile(first, one);
    await writeFile(second, two);
  });
});

describe("a back-up", () => {
  let folder: string;
  beforeAll(async () => (folder = await mkdtemp(join(tmpdir(), "kalonomy-backup-"))));
  afterAll(() => rm(folder, { recursive: true }));

  test("holds the database and every file, and the next one copies only what is new", async () => {
    const { backUp } = await import("./backUp");
    expect(await backUp(folder)).toEqual({ files: known.length, copied: known.length, missing: [] });
    const intake = await takeIn(studio, { "floor_basecolor.png": await picture("#335577", 60) });
    await studio.api("POST", `/intakes/${intake.id}/accept`, { all: true });
    const again = await backUp(folder);
    expect(again.copied).toBe(again.files - known.length);
    expect(again.copied).toBeGreaterThan(0);
  });

  test("can be read by nobody else, and goes on where an original is missing, which it names", async () => {
    const { backUp } = await import("./backUp");
    const modes = async (name: string) => ((await stat(join(folder, name))).mode & 0o777).toString(8);
    expect([await modes("."), await modes("database.dump")]).toEqual(["700", "600"]);
    const other = await mkdtemp(join(tmpdir(), "kalonomy-backup-"));
    const [lost] = known;
    const content = await readFile(folderStore(studio.folder).path(lost));
    await rm(folderStore(studio.folder).path(lost));
    try {
      const { files, copied, missing } = await backUp(other);
      expect(missing).toEqual([lost]);
      expect(copied).toBe(files - 1);
      expect((await stat(join(other, "database.dump"))).size).toBeGreaterThan(0);
    } finally {
      await writeFile(folderStore(studio.folder).path(lost), content);
      await rm(other, { recursive: true });
    }
  });

  test("becomes a studio again in an empty database and folder, and is not put over another", async () => {
    const { restore } = await import("./backUp");
    const { database } = await import("#server/db/database");
    const { settings } = await import("#server/settings");
    const { fileStore } = await import("#server/store/store");
    await expect(restore(folder, { db: database(), store: fileStore(), ...settings() })).rejects.toThrow(
      "not empty",
    );
    const name = `restored_${randomUUID().replaceAll("-", "")}`;
    await database().query(`CREATE DATABASE ${name}`);
    const dataFolder = await mkdtemp(join(tmpdir(), "kalonomy-restored-"));
    const url = new URL(settings().databaseUrl);
    url.pathname = `/${name}`;
    const db = new pg.Client({ connectionString: url.href });
    await db.connect();
    try {
      const target = { db, databaseUrl: url.href, store: folderStore(dataFolder) };
      await expect(restore(dataFolder, target)).rejects.toThrow("no back-up");
      const { files, missing, damaged } = await restore(folder, target);
      expect({ missing, damaged }).toEqual({ missing: [], damaged: [] });
      expect(files).toBeGreaterThan(known.length);
      const { rows } = await db.query<{ name: string }>("SELECT name FROM materials ORDER BY name");
      expect(rows.map((row) => row.name)).toEqual(["Floor", "Wall"]);
      await expect(restore(folder, target)).rejects.toThrow("not empty");
    } finally {
      await db.end();
      await database().query(`DROP DATABASE ${name}`);
      await rm(dataFolder, { recursive: true });
    }
  });
});

describe("what the keeper sees", () => {
  test("tells the queue, the disk and what failed with its reason", async () => {
    const { database } = await import("#server/db/database");
    const { addJob } = await import("#server/jobs/queue");
    await addJob(database(), "count-modules", { material: randomUUID() });
    await database().query(
      "INSERT INTO intakes (person, state, failure) VALUES ($1, 'failed', 'The disk is full.')",
      [studio.person.id],
    );
    const { json } = await studio.api("GET", "/upkeep");
    expect(json.queue).toContainEqual({
      kind: "count-modules",
      waiting: expect.any(Number),
      running: 0,
      failed: 0,
    });
    expect(json.failures[0]).toMatchObject({ what: "intake", reason: "The disk is full." });
    const { readUpkeep } = await import("./readUpkeep");
    // A page shows what a sweep found, and not all of it.
    await database().query("INSERT INTO sweeps (person, found) VALUES ($1, $2)", [
      studio.person.id,
      JSON.stringify(
        Array.from({ length: 40 }, (_, i) => ({ path: `files/${i}`, bytes: 10, why: "unknown" })),
      ),
    ]);
    const { sweep } = await readUpkeep();
    expect(sweep?.found).toMatchObject({ count: 40, bytes: 400 });
    expect(sweep?.found?.first).toHaveLength(12);
    expect(json.disk.freeBytes).toBeGreaterThan(0);
    expect(json.files).toBeGreaterThanOrEqual(known.length);
  });
});
