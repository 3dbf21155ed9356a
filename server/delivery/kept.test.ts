import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import { runQueued } from "#server/testing/runQueued";
import { openTestStudio, picture, takeIn, type TestStudio } from "#server/testing/testStudio";

let studio: TestStudio;
let oak: string;
let project: string;
let share: string;
beforeAll(async () => {
  studio = await openTestStudio();
  const intake = await takeIn(studio, { "oak_color.png": await picture("#804020") });
  oak = (await studio.api("POST", `/intakes/${intake.id}/accept`, { all: true })).json.materials[0].id;
  project = (await studio.api("POST", "/projects", { name: "Pier house" })).json.id;
  await studio.api("PUT", `/projects/${project}/materials`, { add: [oak] });
  share = (await studio.api("POST", "/destinations", { name: "Share", folder: "share" })).json.id;
});
afterAll(() => studio.close());

const keep = (destinations: string[]) =>
  studio.api("PUT", `/projects/${project}/destinations`, { destinations });
const deliveries = async () =>
  (await studio.api("GET", `/deliveries?project=${project}`)).json.items.map(
    (one: { state: string }) => one.state,
  );
const deliver = async (profile: string) => {
  await studio.api("POST", "/deliveries", { project, profiles: [profile], destination: "Share" });
  await runQueued();
};
const resize = (width: number) =>
  studio.api("PUT", `/materials/${oak}/repeat`, { method: "size", width, height: width });

describe("a project that keeps a destination up to date", () => {
  test("was delivered there once", async () => {
    const refused = await keep([share]);
    expect([refused.status, refused.json.detail]).toEqual([
      422,
      expect.stringMatching(/Deliver the project .* once/),
    ]);
    await deliver("gloss-path-tracer-cm");
    expect((await keep([share])).json.items).toEqual([
      { id: share, name: "Share", isKept: true, failure: null },
    ]);
    await runQueued();
    expect(await deliveries()).toEqual(["done"]);
  });

  test("delivers again when it moves on, and not when it stays", async () => {
    await resize(900);
    await runQueued();
    expect(await deliveries()).toEqual(["done"]);
    await studio.api("POST", `/projects/${project}/move-on`, { materials: [oak] });
    await runQueued();
    expect(await deliveries()).toEqual(["done", "done"]);
    await studio.api("POST", `/projects/${project}/move-on`, { materials: [oak] });
    await runQueued();
    expect(await deliveries()).toHaveLength(2);
  });

  test("delivers again when its renderer's profile changes, or what it takes", async () => {
    const own = (await studio.api("POST", "/profiles", { from: "gloss-path-tracer-cm", name: "Hall viewer" }))
      .json;
    await deliver(own.id);
    expect(await deliveries()).toHaveLength(3);
    const {
      revision,
      shipped: _shipped,
      retired: _retired,
      ...profile
    } = (await studio.api("GET", `/profiles/${own.id}`)).json;
    const changed = await studio.api("PUT", `/profiles/${own.id}`, {
      revision,
      profile: { ...profile, maxPixels: 512 },
    });
    expect(changed.status).toBe(200);
    await runQueued();
    expect(await deliveries()).toHaveLength(4);
    await studio.api("DELETE", `/materials/${oak}`);
    await runQueued();
    // Nothing is left to deliver, which is said where it is set.
    const [{ failure }] = (await studio.api("GET", `/projects/${project}/destinations`)).json.items;
    expect(failure).toMatch(/no material|nothing/i);
  });

  test("what overtakes a delivery while it runs is delivered after it", async () => {
    const intake = await takeIn(studio, { "ash_color.png": await picture("#d0c0a0") });
    oak = (await studio.api("POST", `/intakes/${intake.id}/accept`, { all: true })).json.materials[0].id;
    await studio.api("PUT", `/projects/${project}/materials`, { add: [oak] });
    await runQueued();
    const before = (await deliveries()).length;
    const { runDelivery } = await import("#server/delivery/run");
    await resize(700);
    await studio.api("POST", `/projects/${project}/move-on`, { materials: [oak] });
    const { keepUpToDate } = await import("#server/delivery/keepUpToDate");
    await keepUpToDate(project);
    const waiting = (await studio.api("GET", `/deliveries?project=${project}`)).json.items.filter(
      (one: { state: string }) => one.state === "planned",
    );
    expect(waiting).toHaveLength(2);
    // Another revision comes while these wait: asking does nothing until they have ended.
    await resize(800);
    await studio.api("POST", `/projects/${project}/move-on`, { materials: [oak] });
    await keepUpToDate(project);
    expect(await deliveries()).toHaveLength(before + 2);
    for (const { id } of waiting) await runDelivery(id);
    await runQueued();
    expect(await deliveries()).toHaveLength(before + 4);
    expect((await studio.api("GET", "/deliveries/out-of-date")).json.items).toEqual([]);
  });

  test("no longer does once that is taken back", async () => {
    expect((await keep([])).json.items[0].isKept).toBe(false);
    const before = (await deliveries()).length;
    await resize(600);
    await studio.api("POST", `/projects/${project}/move-on`, { materials: [oak] });
    await runQueued();
    expect(await deliveries()).toHaveLength(before);
    const of = (query: string) => studio.api("GET", `/deliveries/out-of-date?${query}`);
    expect((await of(`project=${project}`)).json.items).toHaveLength(2);
    expect((await of(`destination=${share}`)).json.items).toHaveLength(2);
    expect((await of("profile=gloss-path-tracer-cm")).json.items).toHaveLength(1);
    expect((await of("project=00000000-0000-4000-8000-000000000000")).json.items).toEqual([]);
    const brought = await studio.api("POST", "/deliveries/bring-up-to-date?profile=gloss-path-tracer-cm");
    expect(brought.json.items).toHaveLength(1);
  });
});
