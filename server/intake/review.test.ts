import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import { openTestStudio, picture, takeIn, type TestStudio } from "#server/testing/testStudio";
import type { Db } from "#server/db/database";
import type { ReviewFilter } from "#server/intake/review";

let studio: TestStudio;
let intake: string;

/** Four candidates of one intake: one that the library may have, one with something wrong, one accepted, one with a question. */
beforeAll(async () => {
  studio = await openTestStudio();
  const { database } = await import("#server/db/database");
  const taken = await takeIn(studio, { "fir_basecolor.png": await picture("#335544", 32) });
  await studio.api("POST", `/intakes/${taken.id}/accept`, { all: true });
  const db = database();
  const { rows } = await db.query<{ id: string }>(
    "INSERT INTO intakes (person, state) SELECT id, 'review' FROM people LIMIT 1 RETURNING id",
  );
  intake = rows[0].id;
  const put = async (position: number, name: string, folder: string, findings: object[], role: string) => {
    const made = await db.query<{ id: string }>(
      `INSERT INTO candidates (intake, position, name, kind, folder, findings) VALUES ($1, $2, $3, 'material', $4, $5)
       RETURNING id`,
      [intake, position, name, folder, JSON.stringify(findings)],
    );
    await db.query(
      `INSERT INTO candidate_maps (candidate, position, file, sha256, channel, role, confidence)
       SELECT $1, 0, $2, sha256, 'color', $3, 1 FROM images LIMIT 1`,
      [made.rows[0].id, `${name.toLowerCase()}.png`, role],
    );
    return made.rows[0].id;
  };
  await put(0, "Oak", "Wood/Old", [], "height");
  await put(1, "Elm", "Wood", [{ level: "wrong", code: "seam", told: { sentence: "" } }], "height");
  const ash = await put(2, "Ash", "", [], "unknown");
  await db.query(
    "UPDATE candidates SET state = 'accepted', material = (SELECT id FROM materials LIMIT 1) WHERE id = $1",
    [ash],
  );
  await put(3, "FIR", "", [{ level: "note", code: "x", told: {} }], "unknown");
});
afterAll(() => studio.close());

describe("which candidates are shown", () => {
  test.each<[ReviewFilter["shown"], string, string[]]>([
    ["all", "", ["Oak", "Elm", "Ash", "FIR"]],
    ["waiting", "", ["Oak", "Elm", "FIR"]],
    ["wrong", "", ["Elm"]],
    ["look", "", ["Elm"]],
    // What was accepted asks nothing any more.
    ["asked", "", ["FIR"]],
    ["clash", "", ["FIR"]],
    ["accepted", "", ["Ash"]],
    ["all", "wood OLD", ["Oak"]],
    ["all", "elm.PNG", ["Elm"]],
    ["all", "%", []],
    ["all", "_", []],
    ["accepted", "oak", []],
  ])("%s with the words “%s”", async (shown, words, names) => {
    const { reviewCandidates } = await import("#server/intake/review");
    const { database } = await import("#server/db/database");
    const found = await reviewCandidates(database(), intake, { shown, words, offset: 0, limit: 10 });
    expect(found.items.map(({ name }) => name)).toEqual(names);
    expect(found.total).toBe(names.length);
  });

  test("by the page, and counted", async () => {
    const { reviewCandidates } = await import("#server/intake/review");
    const { database } = await import("#server/db/database");
    const page = { shown: "all", words: "" } as const;
    const second = await reviewCandidates(database(), intake, { ...page, offset: 2, limit: 1 });
    expect(second).toMatchObject({ total: 4, items: [{ name: "Ash" }] });
    expect(await reviewCandidates(database(), intake, { ...page, offset: 40, limit: 10 })).toEqual({
      total: 4,
      items: [],
      counts: { all: 4, waiting: 3, wrong: 1, look: 1, asked: 1, clash: 1, accepted: 1 },
    });
  });

  test("with what they clash with in the library", async () => {
    const { reviewCandidates } = await import("#server/intake/review");
    const { database } = await import("#server/db/database");
    const { items } = await reviewCandidates(database(), intake, {
      shown: "clash",
      words: "",
      offset: 0,
      limit: 10,
    });
    expect(items[0].clashes).toEqual([{ id: expect.any(String), name: "Fir", same: "name", isWhole: true }]);
  });

  test("those that wait are told by their folders", async () => {
    const { waitingFolders } = await import("#server/intake/review");
    const { database } = await import("#server/db/database");
    expect(await waitingFolders(database(), intake)).toEqual({
      folders: [
        { folder: "Wood/Old", scope: "", count: 1 },
        { folder: "Wood", scope: "", count: 1 },
        { folder: "", scope: "", count: 1 },
      ],
      first: { name: "Oak", folder: "Wood/Old", sheet: null },
    });
  });
});

describe("what a candidate clashes with is found by index, however large the library is:", () => {
  test.each<[string, (db: Db) => Promise<unknown>]>([
    [
      "which candidates do",
      async (db) =>
        (await import("#server/intake/review")).reviewCandidates(db, intake, {
          ...{ shown: "clash", words: "" },
          ...{ offset: 0, limit: 10 },
        }),
    ],
    [
      "the materials of those on a page",
      async (db) => (await import("#server/intake/queries")).listCandidates(db, intake),
    ],
    [
      "one that is accepted",
      async (db) => (await import("#server/material/queries")).findClashes(db, "Fir", null),
    ],
  ])("%s", async (_, ask) => {
    const { database } = await import("#server/db/database");
    const client = await database().connect();
    const plans: string[] = [];
    const explaining = {
      query: async ({ text, values }: { text: string; values: unknown[] }) => {
        const { rows } = await client.query<{ "QUERY PLAN": string }>(`EXPLAIN ${text}`, values);
        plans.push(rows.map((row) => row["QUERY PLAN"]).join("\n"));
        return client.query(text, values);
      },
    } as unknown as Db;
    try {
      // A library of a handful would be read through at less cost.
      await client.query("SET enable_seqscan = off");
      await ask(explaining);
    } finally {
      client.release(true);
    }
    expect(plans.join("\n")).toContain("Index Scan using materials_by_name");
    expect(plans.join("\n")).not.toContain("Seq Scan on materials");
  });
});

describe("what an intake holds is counted as it arrives", () => {
  test.each([
    [["s/1.png", "s/t/2.png"], "s"],
    [["s/1.png", "t/2.png", "s/3.png"], null],
    [["1.png", "s/2.png"], null],
    [["/1.png"], null],
  ])("%j comes from %j", async (names, root) => {
    const { database } = await import("#server/db/database");
    const { findIntake } = await import("#server/intake/queries");
    const { insertUpload } = await import("#server/intake/receiving/sql");
    const { insertIntake, setIntakeState } = await import("#server/intake/writes");
    const { rows } = await database().query<{ sha256: string; bytes: number }>(
      "SELECT sha256, bytes FROM files LIMIT 1",
    );
    const id = await insertIntake(database(), studio.person.id, { expected: 9 });
    for (const [position, name] of names.entries())
      await insertUpload(database(), id, position, { name, sha256: rows[0].sha256 });
    // The same place once more is the same file, sent twice.
    await insertUpload(database(), id, 0, { name: "again.png", sha256: rows[0].sha256 });
    expect(await findIntake(database(), id)).toMatchObject({
      files: names.length,
      firstFiles: names.slice(0, 3),
      root,
      progress: { done: names.length, total: 9 },
    });
    const kept = await database().query("SELECT file_bytes::int AS bytes FROM intakes WHERE id = $1", [id]);
    expect(kept.rows[0].bytes).toBe(names.length * Number(rows[0].bytes));
    // How far it arrived says nothing of how far it is read.
    await setIntakeState(database(), id, "reading");
    expect(await findIntake(database(), id)).toMatchObject({ progress: { done: 0, total: 0 } });
  });
});
