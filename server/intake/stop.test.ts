import { afterAll, beforeAll, expect, jest, test } from "@jest/globals";
import { openTestStudio, picture, type TestStudio } from "#server/testing/testStudio";

let studio: TestStudio;
beforeAll(async () => (studio = await openTestStudio()));
afterAll(() => studio.close());

test("stopping an intake ends at once what is being read, however long that would take", async () => {
  const { pool } = await import("#server/pool/pool");
  const { readIntake } = await import("#server/intake/stages/read");
  let begun = 0;
  const study = jest.spyOn(pool, "study").mockImplementation(
    (_task, limits) =>
      new Promise((_resolve, reject) => {
        begun++;
        limits!.signal!.addEventListener("abort", () => reject(limits!.signal!.reason as Error));
      }),
  );
  const form = new FormData();
  for (const name of ["a.png", "b.png", "c.png", "d.png"])
    form.append(
      "files",
      new Blob([new Uint8Array(await picture(`#${name.charCodeAt(0).toString(16)}2030`))]),
      name,
    );
  const { id } = (await studio.api("POST", "/intakes", form)).json;
  const reading = readIntake(id);
  while (begun === 0) await new Promise((resolve) => setTimeout(resolve, 20));
  const asked = Date.now();
  expect((await studio.api("POST", `/intakes/${id}/hold`, { wish: "stop" })).status).toBe(200);
  await reading;
  study.mockRestore();
  expect(Date.now() - asked).toBeLessThan(20_000);
  const intake = (await studio.api("GET", `/intakes/${id}`)).json;
  expect(intake).toMatchObject({ state: "review", candidates: [] });
  expect(new Set(intake.ignored.map(({ reason }: { reason: string }) => reason))).toEqual(
    new Set(["It was not read: the intake was stopped."]),
  );
});
