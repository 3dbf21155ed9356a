import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import { sampleSet } from "#core/judge/testing";
import { encode } from "#server/pixels/encode";
import { openTestStudio, takeIn, type TestStudio } from "#server/testing/testStudio";

let studio: TestStudio;
let wall: string;
beforeAll(async () => {
  studio = await openTestStudio();
  const { base_color, specular_roughness } = sampleSet("brick");
  const intake = await takeIn(studio, {
    "wall_basecolor.png": await encode(base_color, "png"),
    "wall_roughness.png": await encode(specular_roughness, "png"),
  });
  wall = (await studio.api("POST", `/intakes/${intake.id}/accept`, { all: true })).json.materials[0].id;
  await studio.api("PUT", `/materials/${wall}/repeat`, { method: "size", width: 900, height: 900 });
});
afterAll(() => studio.close());

const PATH_TRACER = "gloss-path-tracer-cm";
const WALKTHROUGH = "packed-walkthrough-m";
const material = async () => (await studio.api("GET", `/materials/${wall}`)).json;
const correct = (profile: string, change: object, seen?: number) =>
  studio.api("PUT", `/materials/${wall}/corrections/${profile}`, change, {
    headers: seen === undefined ? {} : { "If-Match": String(seen) },
  });

/** Hashes of all files that a delivery makes, by path, and its account. */
async function deliver() {
  const { json } = await studio.api("POST", "/deliveries", {
    materials: [wall],
    profiles: [PATH_TRACER, WALKTHROUGH],
  });
  const { runDelivery } = await import("#server/delivery/run");
  await runDelivery(json.id);
  const { account } = (await studio.api("GET", `/deliveries/${json.id}`)).json;
  const files = new Map<string, string>();
  for (const one of account.materials)
    for (const { path, sha256 } of [...one.files, one.settings]) files.set(path, sha256);
  return { files, account };
}
const changed = (a: Map<string, string>, b: Map<string, string>) =>
  [...a]
    .filter(([path, sha256]) => b.get(path) !== sha256)
    .map(([path]) => path.replace(/^.*\//, "").replace(/^[^_]*_/, ""));

describe("a correction for one renderer", () => {
  test("changes what that renderer gets and nothing else, byte for byte, and stands in the account", async () => {
    const before = await deliver();
    const { status, json } = await correct(PATH_TRACER, { roughnessScale: 0.7, ior: 1.5 });
    expect(status).toBe(200);
    // What is as it is for everybody is no correction.
    expect(json.corrections).toEqual({ [PATH_TRACER]: { roughnessScale: 0.7 } });
    expect(json.finish.roughnessScale).toBeUndefined();
    const after = await deliver();
    const differs = changed(before.files, after.files);
    expect(differs).toContain("gloss.png");
    expect(changed(before.files, after.files).filter((name) => name.startsWith("orm"))).toEqual([]);
    for (const [path, sha256] of before.files)
      if (path.startsWith(WALKTHROUGH) && !path.endsWith("settings.json"))
        expect(after.files.get(path)).toBe(sha256);
    const corrections = after.account.materials.map((one: { profile: string; correction: string[] }) => [
      one.profile,
      one.correction,
    ]);
    expect(Object.fromEntries(corrections)).toEqual({
      [PATH_TRACER]: ["roughness, scaled × 0.7 (for others as received)"],
      [WALKTHROUGH]: [],
    });
  });

  test("stays when the finish is saved, the size is, and a delivery is repeated", async () => {
    await studio.api("PATCH", `/materials/${wall}`, { finish: { tint: "#ffeedd" } });
    await studio.api("PUT", `/materials/${wall}/repeat`, { method: "size", width: 800, height: 800 });
    expect((await material()).corrections).toEqual({ [PATH_TRACER]: { roughnessScale: 0.7 } });
    const [first, second] = [await deliver(), await deliver()];
    expect(changed(first.files, second.files)).toEqual([]);
  });

  test("goes along with a copy, and is taken away by an empty one", async () => {
    const { json: copy } = await studio.api("POST", "/materials", { name: "Copy", from: wall });
    expect(copy.corrections).toEqual({ [PATH_TRACER]: { roughnessScale: 0.7 } });
    expect((await correct(PATH_TRACER, {})).json.corrections).toEqual({});
    expect((await studio.api("GET", `/materials/${copy.id}`)).json.corrections).toEqual({
      [PATH_TRACER]: { roughnessScale: 0.7 },
    });
  });

  test("can take a value away that the others have", async () => {
    expect((await correct(WALKTHROUGH, { tint: null })).json.corrections).toEqual({
      [WALKTHROUGH]: { tint: null },
    });
    const { json } = await studio.api("POST", "/deliveries/plan", {
      materials: [wall],
      profiles: [WALKTHROUGH],
    });
    expect(json.materials[0].correction).toEqual(["tint as received (for others #ffeedd)"]);
    expect(json.materials[0].files[0].operations.join(" ")).not.toContain("adjust-color");
  });

  test("is refused for a renderer that is not there, a value that cannot be, and on top of what was not seen", async () => {
    expect((await correct("moon", { ior: 1.4 })).status).toBe(404);
    for (const wrong of [{ roughnessScale: "abc" }, { ior: 1e9 }, { roughness: -1 }, { shine: 1 }])
      expect((await correct(PATH_TRACER, wrong)).status).toBe(422);
    const { revision } = await material();
    await studio.api("PATCH", `/materials/${wall}`, { finish: { gamma: 1.1 } });
    expect((await correct(PATH_TRACER, { ior: 1.4 }, revision)).status).toBe(412);
  });
});

describe("an earlier revision", () => {
  test("is made the newest one again, with the same files", async () => {
    const before = await material();
    await studio.api("PATCH", `/materials/${wall}`, { finish: { gamma: 2, saturation: 0.2 } });
    const { json, status } = await studio.api("POST", `/materials/${wall}/restore`, {
      revision: before.revision,
    });
    expect(status).toBe(200);
    expect(json.revision).toBe(before.revision + 2);
    expect([json.finish, json.maps, json.repeat, json.corrections]).toEqual([
      before.finish,
      before.maps,
      before.repeat,
      before.corrections,
    ]);
    const { items } = (await studio.api("GET", `/materials/${wall}/revisions`)).json;
    expect(items[0].note).toBe(`As in revision ${before.revision} again`);
    expect((await studio.api("POST", `/materials/${wall}/restore`, { revision: 999 })).status).toBe(404);
  });
});
