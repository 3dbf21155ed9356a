import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import { openTestStudio, type TestStudio } from "#server/testing/testStudio";

let studio: TestStudio;
let steel: string;
let zinc: string;
let project: string;
let profile: Record<string, unknown>;
beforeAll(async () => {
  studio = await openTestStudio();
  steel = await paint("Steel");
  zinc = await paint("Zinc");
  project = (await studio.api("POST", "/projects", { name: "Landing", number: "24-07" })).json.id;
  await studio.api("PUT", `/projects/${project}/materials`, { add: [steel] });
  profile = (await studio.api("POST", "/profiles", { from: "gloss-path-tracer-cm", name: "Own" })).json;
  await studio.api("POST", "/destinations", { name: "Share", folder: "share" });
});
afterAll(() => studio.close());

const paint = async (name: string): Promise<string> =>
  (await studio.api("POST", "/materials", { name, layout: "plain", color: "#c8c8c8" })).json.id;
const changePaint = (id: string, color: string) =>
  studio.api("PATCH", `/materials/${id}`, { finish: { color } });

async function deliver(what: object, destination: string | undefined = "Share"): Promise<string> {
  const request = { ...what, profiles: [profile.id], ...(destination && { destination }) };
  const { json, status } = await studio.api("POST", "/deliveries", request);
  if (status !== 202) throw new Error(JSON.stringify(json));
  await run(json.id);
  return json.id;
}
async function run(id: string): Promise<void> {
  const { runDelivery } = await import("#server/delivery/run");
  await runDelivery(id);
}
const overtaken = async (): Promise<string[]> =>
  (await studio.api("GET", "/deliveries/out-of-date")).json.items.map(({ id }: { id: string }) => id);

describe("what is out of date", () => {
  test("is a material file that carries facts of a product, once those change; one that carries none is not", async () => {
    const tin = await paint("Tin");
    const to = { materials: [tin], destination: "Share" };
    const made = async (profile: string) => {
      const { json } = await studio.api("POST", "/deliveries", { ...to, profiles: [profile] });
      await run(json.id);
      return json.id as string;
    };
    const model = await made("ifc-4");
    await made("materialx-openpbr");
    await studio.api("PATCH", `/materials/${tin}/facts`, { page: null });
    expect(await overtaken()).toEqual([]);
    await studio.api("PATCH", `/materials/${tin}/facts`, { product: "Tin plate" });
    expect(await overtaken()).toEqual([model]);
    await made("ifc-4");
    expect(await overtaken()).toEqual([]);
  });

  test("is what lies at a destination and whose material, project or profile has gone on; the last of the same alone", async () => {
    const first = await deliver({ materials: [steel] });
    const zincs = await deliver({ materials: [zinc] });
    const landing = await deliver({ project });
    await deliver({ materials: [steel] }, "");
    expect(await overtaken()).toEqual([]);

    await changePaint(steel, "#aaaaaa");
    // The project stays with what it took.
    expect(await overtaken()).toEqual([first]);
    await studio.api("POST", `/projects/${project}/move-on`, { materials: [steel] });
    expect((await overtaken()).toSorted()).toEqual([first, landing].toSorted());
    const again = await deliver({ materials: [steel] });
    expect(await overtaken()).toEqual([landing]);
    await studio.api("PUT", `/projects/${project}/materials`, { add: [zinc] });
    await deliver({ project });
    expect(await overtaken()).toEqual([]);

    const { revision, shipped: _, retired: __, ...bare } = profile;
    await studio.api("PUT", `/profiles/${String(profile.id)}`, {
      revision,
      profile: { ...bare, unit: "in" },
    });
    const all = await overtaken();
    expect(all).toHaveLength(3);
    expect(all).toEqual(expect.arrayContaining([again, zincs]));
  });

  test("is delivered again in one act, and what cannot be keeps nothing else back", async () => {
    await studio.api("DELETE", `/materials/${zinc}`);
    const before = await overtaken();
    const { status, json } = await studio.api("POST", "/deliveries/bring-up-to-date");
    expect(status).toBe(202);
    expect(json.items.map(({ of }: { of: string }) => of).toSorted()).toEqual(before.toSorted());
    const started = json.items.flatMap(({ delivery }: { delivery: string | null }) => delivery ?? []);
    const failed = json.items.flatMap(({ failure }: { failure: string | null }) => failure ?? []);
    expect(started).toHaveLength(2);
    expect(failed).toEqual([expect.stringMatching(/There is no material/)]);
    // What is on its way already is not begun once more.
    expect(await overtaken()).toHaveLength(1);
    for (const id of started) await run(id);
    expect((await studio.api("GET", `/deliveries/${started[0]}`)).json.state).toBe("done");
  });
});
