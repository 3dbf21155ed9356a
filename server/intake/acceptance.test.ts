import { afterAll, beforeAll, expect, jest, test } from "@jest/globals";
import { openTestStudio, picture, takeIn, type TestStudio } from "#server/testing/testStudio";

let studio: TestStudio;
let intake: { id: string; candidates: { id: string }[] };
beforeAll(async () => {
  studio = await openTestStudio();
  intake = await takeIn(studio, { "a.png": await picture("#102030"), "b.png": await picture("#a05030") });
});
afterAll(() => studio.close());

/** So many that the worker does it; what is named again was accepted already. */
const many = (...ids: string[]) => Array.from({ length: 60 }, (_, n) => ({ id: ids[n % ids.length] }));
const ask = (candidates: object[]) => studio.api("POST", `/intakes/${intake.id}/accept`, { candidates });

/** Does the newest acceptance as the worker would, so often. */
async function work(times: number): Promise<void> {
  const { database } = await import("#server/db/database");
  const { tasks } = await import("#server/main/tasks");
  for (;;) {
    const { rows } = await database().query(
      "SELECT payload FROM graphile_worker._private_jobs WHERE key LIKE 'accept-candidates:%'",
    );
    if (rows.length === 0) {
      await new Promise((resolve) => setTimeout(resolve, 20));
      continue;
    }
    await database().query("DELETE FROM graphile_worker._private_jobs WHERE key LIKE 'accept-candidates:%'");
    const helpers = { job: { id: "0", attempts: 1, max_attempts: 4 } } as never;
    await Promise.all(
      Array.from({ length: times }, () => tasks["accept-candidates"](rows[0].payload, helpers)),
    );
    return;
  }
}

test("a choice that does not fit is answered as it would be at once, and nothing is taken", async () => {
  const asking = ask([...many(intake.candidates[0].id), { id: "00000000-0000-4000-8000-000000000000" }]);
  await work(1);
  expect(await asking).toMatchObject({ status: 422, json: { pointer: "/candidates/60/id" } });
  expect((await studio.api("GET", "/materials")).json.items).toEqual([]);
});

test("many are taken by the worker while the asker waits, and once, however often it is run", async () => {
  const [first] = intake.candidates;
  const asking = ask(many(first.id));
  await work(2);
  const { status, json } = await asking;
  expect(status).toBe(200);
  expect(json.materials).toHaveLength(1);
  expect(json.skipped).toHaveLength(59);
  expect((await studio.api("GET", "/materials")).json.items).toHaveLength(1);
});

test("without a worker the asker's own process does it after a while", async () => {
  const asking = ask(many(intake.candidates[1].id));
  // It has waited for long once it has been waiting for a moment.
  await new Promise((resolve) => setTimeout(resolve, 500));
  const now = Date.now;
  const later = jest.spyOn(Date, "now").mockImplementation(() => now() + 60_000);
  const { status, json } = await asking;
  later.mockRestore();
  expect(status).toBe(200);
  expect(json.materials).toHaveLength(1);
  expect((await studio.api("GET", `/intakes/${intake.id}`)).json.state).toBe("accepted");
}, 60_000);
