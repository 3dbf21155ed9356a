import { randomUUID } from "node:crypto";
import { afterAll, beforeAll, expect, test } from "@jest/globals";
import { Logger, run } from "graphile-worker";
import { database } from "#server/db/database";
import { addJob } from "#server/jobs/queue";
import { openTestStudio, type TestStudio } from "#server/testing/testStudio";

let studio: TestStudio;
beforeAll(async () => (studio = await openTestStudio()));
afterAll(() => studio.close());

test("what nobody waits for never holds every lane: an intake is read while it goes on", async () => {
  let release = () => {};
  const held = new Promise<void>((resolve) => (release = resolve));
  const upkeep: string[] = [];
  const hold = (kind: string) => async () => {
    upkeep.push(kind);
    await held;
  };
  for (let index = 0; index < 3; index++)
    await addJob(database(), "prove-delivery", { delivery: randomUUID() });
  await addJob(database(), "read-anew", { after: "" });
  const runner = await run({
    pgPool: database(),
    concurrency: 2,
    pollInterval: 100,
    noHandleSignals: true,
    logger: new Logger(() => () => {}),
    taskList: {
      "prove-delivery": hold("prove"),
      "read-anew": hold("anew"),
      "read-intake": async () => release(),
    },
  });
  while (upkeep.length === 0) await new Promise((resolve) => setTimeout(resolve, 20));
  await addJob(database(), "read-intake", { intake: randomUUID(), lane: 0 });
  // Ends only if the intake was taken up beside them.
  await held;
  expect(upkeep).toHaveLength(1);
  while (upkeep.length < 4) await new Promise((resolve) => setTimeout(resolve, 20));
  await runner.stop();
  expect(upkeep.sort()).toEqual(["anew", "prove", "prove", "prove"]);
});
