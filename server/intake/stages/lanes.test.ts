import { afterAll, beforeAll, expect, jest, test } from "@jest/globals";
import { openTestStudio, picture, type TestStudio } from "#server/testing/testStudio";

/** Several lanes read one intake together. */
let studio: TestStudio;
beforeAll(async () => (studio = await openTestStudio()));
afterAll(() => studio.close());

let shade = 16;
async function handIn(count: number, token?: string): Promise<string> {
  const form = new FormData();
  for (let n = 0; n < count; n++, shade++)
    form.append(
      "files",
      new Blob([
        new Uint8Array(await picture(`#50${(shade % 240).toString(16).padStart(2, "1")}70`, 40 + shade)),
      ]),
      `stone${shade}_basecolor.png`,
    );
  const { json } = await studio.api("POST", "/intakes", form, token === undefined ? {} : { token });
  return json.id;
}
const intake = async (id: string) => (await studio.api("GET", `/intakes/${id}`)).json;
const laneJobs = async (id: string) => {
  const { database } = await import("#server/db/database");
  const { rows } = await database().query<{ key: string }>(
    "SELECT key FROM graphile_worker.jobs WHERE key LIKE $1 ORDER BY key",
    [`read-intake:${id}:%`],
  );
  return rows.map(({ key }) => key.split(":").at(-1));
};
const readOn = async (id: string, lane: number) =>
  (await import("#server/intake/stages/read")).readOn(id, lane);

test("each file is studied once, whoever takes it, and the sets come out in their order", async () => {
  const { pool } = await import("#server/pool/pool");
  const study = jest.spyOn(pool, "study");
  const id = await handIn(9);
  const lane = async (at: number) => {
    while (await readOn(id, at));
  };
  await lane(0).then(
    () => undefined,
    () => undefined,
  );
  const first = study.mock.calls.length;
  const other = await handIn(9);
  // Unpacked by one, then read by three.
  const shared = async (at: number) => {
    for (let turns = 0; turns < 200 && (await intake(other)).state === "reading"; turns++)
      await readOn(other, at);
  };
  await Promise.all([0, 1, 2].map(shared));
  expect([first, study.mock.calls.length]).toEqual([9, 18]);
  study.mockRestore();
  const names = (await intake(other)).candidates.map(({ name }: { name: string }) => name);
  expect(names).toHaveLength(9);
  expect(names).toEqual([...names].sort((a: string, b: string) => a.localeCompare(b)));
  const { database } = await import("#server/db/database");
  expect((await database().query("SELECT 1 FROM intake_steps")).rowCount).toBe(0);
});

test("what a lane had taken when it was broken off is given back to it, and nothing is lost", async () => {
  const { database } = await import("#server/db/database");
  const { takeStep } = await import("#server/intake/stages/steps");
  const id = await handIn(3);
  await readUntilStage(id, "study");
  expect(await takeStep(database(), id, "study", 1)).toMatchObject({ position: expect.any(Number) });
  while (await readOn(id, 0));
  expect((await intake(id)).state).toBe("reading");
  while (await readOn(id, 1));
  expect((await intake(id)).state).toBe("review");
  expect((await intake(id)).candidates).toHaveLength(3);
});

test("a step is taken alone, however the database goes about it", async () => {
  const { database, inTransaction } = await import("#server/db/database");
  const { takeStep } = await import("#server/intake/stages/steps");
  // As it was once seen: of a table that was empty when it was looked at last, rows are looked up one by one.
  await database().query("DELETE FROM intake_steps");
  await database().query("ANALYZE intake_steps");
  const id = await handIn(6);
  await readUntilStage(id, "study");
  const taken = await inTransaction(async (db) => {
    for (const way of ["indexscan", "bitmapscan", "hashjoin", "mergejoin"])
      await db.query(`SET LOCAL enable_${way} = off`);
    const step = await takeStep(db, id, "study", 0);
    const { rows } = await db.query("SELECT position FROM intake_steps WHERE intake = $1 AND lane = 0", [id]);
    return { step: step?.position, rows: rows.map(({ position }: { position: number }) => position) };
  });
  expect(taken).toEqual({ step: 0, rows: [0] });
  while (await readOn(id, 0));
  expect((await intake(id)).state).toBe("review");
});

test("one lane too many goes on until another one is sure to come; one that has none is given one", async () => {
  const { database } = await import("#server/db/database");
  const { readForgotten } = await import("#server/intake/stages/lanes");
  const { addJob, isAnyWaiting } = await import("#server/jobs/queue");
  const id = await handIn(4);
  await database().query(
    "SELECT graphile_worker.remove_job(key) FROM graphile_worker.jobs WHERE key LIKE $1",
    [`read-intake:${id}:%`],
  );
  expect(await laneJobs(id)).toEqual([]);
  await readForgotten(database());
  await readForgotten(database());
  expect(await laneJobs(id)).toEqual(["0"]);
  const zero = { intake: id, lane: 0 };
  expect(await isAnyWaiting(database(), "read-intake", [zero])).toBe(true);
  await database().query(
    "UPDATE graphile_worker._private_jobs SET locked_at = now(), locked_by = 'somebody' WHERE key = $1",
    [`read-intake:${id}:0`],
  );
  expect(await isAnyWaiting(database(), "read-intake", [zero])).toBe(false);
  expect(await isAnyWaiting(database(), "read-intake", [])).toBe(false);
  await addJob(database(), "read-intake", zero);
  expect(await isAnyWaiting(database(), "read-intake", [zero])).toBe(true);
  const { runQueued } = await import("#server/testing/runQueued");
  await runQueued();
  expect((await intake(id)).state).toBe("review");
});

/** Unpacks alone: the first step of a reading. */
async function readUntilStage(id: string, stage: string): Promise<void> {
  const { pool } = await import("#server/pool/pool");
  const { database } = await import("#server/db/database");
  const { findIntake } = await import("#server/intake/queries");
  const study = jest
    .spyOn(pool, "study")
    .mockRejectedValue(Object.assign(new Error("full"), { code: "ENOSPC" }));
  await readOn(id, 0).catch(() => undefined);
  study.mockRestore();
  expect((await findIntake(database(), id))!.stage).toBe(stage);
  const { giveBack } = await import("#server/intake/stages/steps");
  await giveBack(database(), id, 0);
}

test("lanes are shared out among the intakes of one person, and each goes on behind what waits", async () => {
  const { database } = await import("#server/db/database");
  const { readLane } = await import("#server/intake/stages/lanes");
  await database().query(
    "INSERT INTO workers (id, process, lanes) VALUES ('a', 'one', 2), ('b', 'one', 2), ('c', 'two', 2)",
  );
  const { token } = await studio.addPerson("make");
  const { pool } = await import("#server/pool/pool");
  const real = pool.study.bind(pool);
  const study = jest.spyOn(pool, "study").mockImplementation(async (...given) => {
    await new Promise((resolve) => setTimeout(resolve, 400));
    return real(...given);
  });
  try {
    const alone = await handIn(20, token);
    await readLane(alone, 0);
    expect(await laneJobs(alone)).toEqual(["0", "1", "2", "3"]);
    const second = await handIn(20, token);
    await readLane(second, 0);
    expect(await laneJobs(second)).toEqual(["0", "1"]);
    // One lane too many rests, and the others go on.
    await database().query(
      "SELECT graphile_worker.complete_jobs(ARRAY(SELECT id FROM graphile_worker.jobs WHERE key LIKE $1))",
      [`read-intake:${alone}:%`],
    );
    await readLane(alone, 3);
    expect(await laneJobs(alone)).toEqual(["0", "1"]);
    const others = await studio.addPerson("make");
    const third = await handIn(20, others.token);
    await readLane(third, 0);
    expect(await laneJobs(third)).toEqual(["0", "1", "2", "3"]);
  } finally {
    study.mockRestore();
  }
});
