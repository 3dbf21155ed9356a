import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import { glossPathTracer } from "#core/convert/profiles/glossPathTracer";
import { openTestStudio, type TestStudio } from "#server/testing/testStudio";

let studio: TestStudio;
let paint: string;
beforeAll(async () => {
  studio = await openTestStudio();
  const made = await studio.api("POST", "/materials", { name: "Steel", layout: "plain", color: "#c8c8c8" });
  paint = made.json.id;
});
afterAll(() => studio.close());

const copy = async (name: string, from = "gloss-path-tracer-cm") =>
  (await studio.api("POST", "/profiles", { from, name })).json;

const bare = ({ revision: _, shipped: __, retired: ___, ...profile }: Record<string, unknown>) => profile;
const change = (one: Record<string, unknown>, values: object, revision = one.revision) =>
  studio.api("PUT", `/profiles/${String(one.id)}`, { revision, profile: { ...bare(one), ...values } });

describe("profiles of the studio's own", () => {
  test("begin as a copy, with an id of their name, and are listed after those that ship", async () => {
    const own = await copy("  Hafen-Büro, großes Bild ");
    expect(own).toMatchObject({
      id: "hafen-buro-grosses-bild",
      name: "Hafen-Büro, großes Bild",
      revision: 1,
      shipped: false,
      retired: false,
      unit: "cm",
    });
    const { items } = (await studio.api("GET", "/profiles")).json;
    expect(items.map(({ id }: { id: string }) => id)).toEqual([
      "gloss-path-tracer-cm",
      "packed-walkthrough-m",
      "drawing-board-in",
      "gltf-2",
      "materialx-openpbr",
      "openusd",
      "obj-mtl",
      "ifc-4",
      own.id,
    ]);
    const again = await studio.api("POST", "/profiles", { from: own.id, name: "HAFEN-BÜRO, großes Bild" });
    expect([again.status, again.json.detail]).toEqual([
      422,
      "There is a profile “HAFEN-BÜRO, großes Bild” already.",
    ]);
  });

  test("of names that make the same id, at the same time, get ids of their own", async () => {
    const made = await Promise.all(["Büro", "Buro", "buró", "レンダラー", "…"].map((name) => copy(name)));
    const ids = made.map(({ id }) => id);
    expect(ids.slice(0, 3).toSorted()).toEqual(["buro", "buro-2", "buro-3"]);
    expect(ids[3]).toMatch(/^rendar/);
    expect(ids[4]).toBe("renderer");
  });

  test("are changed as a next revision, by one person at a time; what ships is not", async () => {
    const own = await copy("Night renderer");
    const changed = await change(own, { unit: "mm", name: "Late renderer" });
    expect(changed.json).toMatchObject({ id: own.id, name: "Late renderer", unit: "mm", revision: 2 });
    const late = await change(own, { unit: "in" });
    expect([late.status, late.json.detail]).toEqual([409, expect.stringMatching(/it is at revision 2/)]);
    expect((await change(changed.json, {})).json.revision).toBe(2);
    const shipped = await change({ ...glossPathTracer, revision: 1 }, { unit: "mm" });
    expect([shipped.status, shipped.json.detail]).toEqual([409, expect.stringMatching(/Copy it/)]);
    expect((await change({ ...own, id: "nobody" }, {})).status).toBe(404);
  });

  test("come from what was exported, and what is wrong in it is said with its place", async () => {
    const own = await copy("Exported");
    const file = bare((await studio.api("GET", `/profiles/${own.id}`)).json);
    const taken = (await studio.api("POST", "/profiles", { profile: { ...file, name: "Imported" } })).json;
    expect(bare(taken)).toEqual({ ...file, id: "imported", name: "Imported" });
    const outputs = JSON.parse(JSON.stringify(own.outputs));
    outputs[2].suffix = outputs[0].suffix;
    for (const [wrong, pointer, detail] of [
      [{ outputs }, "/outputs/2/suffix", /outputs → 2 → suffix: .*“color” is there twice/],
      [{ maxPixels: 0 }, "/maxPixels", /maxPixels/],
      [{ name: "n".repeat(3000) }, "/name", /name/],
      [{ names: { folder: "../..", file: "{suffix}" } }, "/names/folder", /names → folder/],
    ] as const) {
      const { status, json } = await studio.api("POST", "/profiles", {
        profile: { ...file, name: "Wrong", ...wrong },
      });
      expect([status, json.pointer, json.detail]).toEqual([422, pointer, expect.stringMatching(detail)]);
    }
    const { items } = (await studio.api("GET", "/profiles")).json;
    expect(items.some(({ name }: { name: string }) => name === "Wrong")).toBe(false);
  });

  test("are put in order, retired and offered again, and the last one stays", async () => {
    const ids = async () =>
      (await studio.api("GET", "/profiles")).json.items.map(({ id }: { id: string }) => id);
    await studio.api("PUT", "/profiles", { ids: ["gltf-2", "drawing-board-in"] });
    const before = await ids();
    expect(before.slice(0, 2)).toEqual(["gltf-2", "drawing-board-in"]);
    expect((await studio.api("PUT", "/profiles", { ids: ["gltf-2", "gltf-2"] })).status).toBe(422);
    expect((await studio.api("PUT", "/profiles", { ids: ["nobody"] })).json.detail).toMatch(/“nobody”/);
    expect((await studio.api("DELETE", "/profiles/gltf-2")).json.retired).toBe(true);
    expect((await ids()).at(-1)).toBe("gltf-2");
    const refused = await studio.api("POST", "/deliveries", { materials: [paint], profiles: ["gltf-2"] });
    expect([refused.status, refused.json.detail]).toEqual([422, expect.stringMatching(/is retired/)]);
    for (const id of before.slice(1, -1)) await studio.api("DELETE", `/profiles/${id}`);
    const last = await studio.api("DELETE", `/profiles/${before.at(-1)}`);
    expect([last.status, last.json.detail]).toEqual([409, expect.stringMatching(/only profile/)]);
    for (const id of before.slice(0, -1)) await studio.api("POST", `/profiles/${id}/offer`);
    expect(await ids()).toEqual(before);
  });
});

describe("a delivery", () => {
  const deliver = async (profile: string) => {
    const { json } = await studio.api("POST", "/deliveries", { materials: [paint], profiles: [profile] });
    const { runDelivery } = await import("#server/delivery/run");
    await runDelivery(json.id);
    return (await studio.api("GET", `/deliveries/${json.id}`)).json;
  };

  test("is called as the profile says, and keeps the profile that it was made with", async () => {
    const own = await copy("Flat folder");
    const flat = (await change(own, { names: { folder: "", file: "{code}-{suffix}" } })).json;
    const done = await deliver(own.id);
    expect(done.state).toBe("done");
    expect(done.account.materials[0].settings.path).toBe("flat-folder/steel-0001_settings.json");
    await change(flat, { unit: "in" });
    const { findDelivery } = await import("#server/delivery/queries");
    const { database } = await import("#server/db/database");
    expect((await findDelivery(database(), done.id))!.profileRevisions).toEqual([
      { id: own.id, name: "Flat folder", revision: 2, newest: 3 },
    ]);
    const { findProfileRevision } = await import("#server/profile/sql");
    expect((await findProfileRevision(database(), own.id, 2))!.unit).toBe("cm");
  });
});

describe("what ships", () => {
  test("follows the version of the program as its next revision, and leaves the studio's own of its name alone", async () => {
    const { keepShippedProfiles } = await import("#server/profile/commands");
    const { inTransaction } = await import("#server/db/database");
    const own = await copy("Plan viewer");
    const next = { ...glossPathTracer, unit: "m" as const };
    const clash = { ...glossPathTracer, id: "plan-viewer-2", name: "plan VIEWER" };
    await inTransaction((db) => keepShippedProfiles(db, [next, clash]));
    await inTransaction((db) => keepShippedProfiles(db, [next, clash]));
    expect((await studio.api("GET", "/profiles/gloss-path-tracer-cm")).json).toMatchObject({
      unit: "m",
      revision: 2,
      shipped: true,
    });
    expect((await studio.api("GET", "/profiles/plan-viewer-2")).status).toBe(404);
    expect((await studio.api("GET", `/profiles/${own.id}`)).json.revision).toBe(1);
  });
});
