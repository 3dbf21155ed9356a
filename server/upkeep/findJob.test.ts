import { randomUUID } from "node:crypto";
import { afterAll, beforeAll, expect, test } from "@jest/globals";
import { sampleSet } from "#core/judge/testing";
import { encode } from "#server/pixels/encode";
import { openTestStudio, picture, takeIn, type TestStudio } from "#server/testing/testStudio";

let studio: TestStudio;
let material: string;
beforeAll(async () => {
  studio = await openTestStudio();
  const base = Buffer.from(await encode(sampleSet("brick").base_color, "png"));
  const intake = await takeIn(studio, { "wall_basecolor.png": base });
  const { json } = await studio.api("POST", `/intakes/${intake.id}/accept`, { all: true });
  material = json.materials[0].id;
});
afterAll(() => studio.close());

const job = async (id: string) => (await studio.api("GET", `/jobs/${id}`)).json;

test("an intake is followed from the queue to the review", async () => {
  const form = new FormData();
  form.append("files", new Blob([new Uint8Array(await picture("#123456", 20))]), "a.png");
  const { id } = (await studio.api("POST", "/intakes", form)).json;
  expect(await job(id)).toMatchObject({
    kind: "intake",
    state: "running",
    failure: null,
    result: `/intakes/${id}`,
  });
  await studio.api("POST", `/intakes/${id}/hold`, { wish: "pause" });
  expect((await job(id)).state).toBe("paused");
  await studio.api("POST", `/intakes/${id}/hold`, { wish: "go-on" });
  const { readIntake } = await import("#server/intake/stages/read");
  await readIntake(id);
  expect(await job(id)).toMatchObject({ state: "done", progress: { done: 1, total: 1, what: "" } });
});

test("a mend, whether it is kept at once, looked at first, or fails", async () => {
  const { runMend } = await import("#server/mending/run");
  const { failMend } = await import("#server/mending/run");
  const ask = async (query = "") =>
    (await studio.api("POST", `/materials/${material}/mends${query}`, { kind: "even-out" })).json.id;
  const first = await ask("?look=first");
  expect(await job(first)).toMatchObject({ kind: "mend", state: "running", progress: null });
  await runMend(first);
  expect(await job(first)).toMatchObject({ state: "done", result: `/materials/${material}/mends` });
  await studio.api("DELETE", `/materials/${material}/mends/${first}`);
  const second = await ask();
  await failMend(second, "It was not to be.");
  expect(await job(second)).toMatchObject({ state: "failed", failure: "It was not to be." });
});

test("a delivery that was planned, ran, or was called off", async () => {
  await studio.api("PUT", `/materials/${material}/repeat`, { method: "size", width: 900 });
  const { runDelivery } = await import("#server/delivery/run");
  const ask = async () =>
    (await studio.api("POST", "/deliveries", { materials: [material], profiles: ["gltf-2"] })).json.id;
  const [done, off] = [await ask(), await ask()];
  expect(await job(done)).toMatchObject({ kind: "delivery", state: "waiting" });
  await studio.api("POST", `/deliveries/${off}/cancel`);
  await runDelivery(done);
  await runDelivery(off);
  expect([(await job(done)).state, (await job(off)).state]).toEqual(["done", "cancelled"]);
});

test("what is no job is not found", async () => {
  expect((await studio.api("GET", `/jobs/${randomUUID()}`)).status).toBe(404);
  expect((await studio.api("GET", `/jobs/${material}`)).status).toBe(404);
});
