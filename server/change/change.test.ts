import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import { failChange, runChange } from "#server/change/run";
import { openTestStudio, picture, takeIn, type TestStudio } from "#server/testing/testStudio";

let studio: TestStudio;
beforeAll(async () => (studio = await openTestStudio()));
afterAll(() => studio.close());

let made = 0;
async function makeMaterials(count: number): Promise<string[]> {
  const files: Record<string, Buffer> = {};
  for (let i = 0; i < count; i++)
    files[`thing${++made}.png`] = await picture(`#${(made * 7919 + 4096).toString(16).padStart(6, "0")}`, 64);
  const intake = await takeIn(studio, files);
  const { json } = await studio.api("POST", `/intakes/${intake.id}/accept`, { all: true });
  return json.materials.map(({ id }: { id: string }) => id);
}

/** Asks for an act and does it, as the worker would. */
async function change(body: object) {
  const { status, json } = await studio.api("POST", "/changes", body);
  expect(status).toBe(202);
  await runChange(json.id);
  return (await studio.api("GET", `/changes/${json.id}`)).json;
}
async function undo(id: string) {
  const { status } = await studio.api("POST", `/changes/${id}/undo`);
  expect(status).toBe(202);
  await runChange(id);
  return (await studio.api("GET", `/changes/${id}`)).json;
}
const material = async (id: string) => (await studio.api("GET", `/materials/${id}`)).json;

describe("sizes of many", () => {
  const size = { method: "modules", across: 2, up: 2, workSize: { width: 197, height: 97 }, joint: 3 };

  test("each gets its own; one that cannot be holds up none; undone, each is as it was, with the revision in between", async () => {
    const [one, other, wrong] = await makeMaterials(3);
    const done = await change({
      kind: "size",
      items: [
        { material: one, seen: 1, size },
        { material: other, size: { method: "size", width: 500 } },
        { material: wrong, size: { method: "same-as", material: wrong } },
      ],
    });
    expect(done).toMatchObject({
      state: "done",
      counts: { changed: 2, refused: 1, waiting: 0 },
      canUndo: true,
    });
    expect(done.items[0]).toMatchObject({
      material: wrong,
      state: "refused",
      reason: expect.stringContaining("unknown"),
    });
    expect(done.items[1].said).toEqual([{ name: "size", before: "unknown", after: "400 × 200 mm" }]);
    expect(await material(one)).toMatchObject({ repeat: { width: 400, height: 200 }, revision: 2 });
    expect(await material(wrong)).toMatchObject({ repeat: null, revision: 1 });

    const undone = await undo(done.id);
    expect(undone).toMatchObject({ state: "undone", counts: { undone: 2, refused: 1 }, canUndo: false });
    expect(await material(one)).toMatchObject({ repeat: null, sizeState: "unknown", revision: 3 });
    expect((await studio.api("POST", `/changes/${done.id}/undo`)).status).toBe(409);
  });

  test("what somebody has sized meanwhile is left, and what was changed since is not taken back", async () => {
    const [early, late] = await makeMaterials(2);
    await studio.api("PUT", `/materials/${early}/repeat`, { method: "size", width: 300 });
    const items = [early, late].map((id) => ({ material: id, seen: 1, size }));
    const done = await change({ kind: "size", items });
    expect(done.items[0]).toMatchObject({ material: early, state: "refused" });
    expect(done.items[0].reason).toContain("meanwhile");
    expect((await material(early)).repeat.width).toBe(300);

    await studio.api("PUT", `/materials/${late}/repeat`, { method: "size", width: 650 });
    expect(await undo(done.id)).toMatchObject({ counts: { kept: 1, refused: 1, undone: 0 } });
    expect((await material(late)).repeat.width).toBe(650);
  });

  test("a size that it has already is no change, and no revision", async () => {
    const [id] = await makeMaterials(1);
    const body = { kind: "size", items: [{ material: id, size }] };
    await change(body);
    expect((await change(body)).counts).toMatchObject({ changed: 0, same: 1 });
    expect((await material(id)).revision).toBe(2);
  });

  test("what was given up can be taken back, and taking back can be asked for again", async () => {
    const [id] = await makeMaterials(1);
    const done = await change({ kind: "size", items: [{ material: id, size }] });
    expect((await studio.api("POST", `/changes/${done.id}/undo`)).status).toBe(202);
    await failChange(done.id, "The worker broke off.");
    const now = (await studio.api("GET", `/changes/${done.id}`)).json;
    expect(now).toMatchObject({ state: "done", failure: "The worker broke off.", canUndo: true });
    expect(await undo(done.id)).toMatchObject({ state: "undone", failure: null, counts: { undone: 1 } });
  });

  test("an act that was broken off half-way goes on, and changes nothing twice", async () => {
    const ids = await makeMaterials(4);
    const { json } = await studio.api("POST", "/changes", {
      kind: "size",
      items: ids.map((material) => ({ material, size })),
    });
    expect((await studio.api("POST", `/changes/${json.id}/undo`)).status).toBe(409);
    // Two workers that both hold it for theirs.
    await Promise.all([runChange(json.id), runChange(json.id)]);
    await runChange(json.id);
    for (const id of ids) expect(await material(id)).toMatchObject({ revision: 2, sizeState: "known" });
    expect((await studio.api("GET", `/jobs/${json.id}`)).json).toMatchObject({
      ...{ kind: "change", state: "done", result: `/changes/${json.id}` },
      progress: { done: 4, total: 4 },
    });
  });
});

describe("facts of many", () => {
  test("are planned in words, changed, and taken back one by one where somebody has changed one since", async () => {
    const ids = await makeMaterials(3);
    await studio.api("PATCH", `/materials/${ids[0]}/facts`, { tags: ["old"], family: "stone" });
    const body = {
      ...{ kind: "facts", materials: ids },
      facts: {
        family: "brick",
        supplier: "Harrow & Quill",
        addTags: ["north", "Old"],
        removeTags: ["nowhere"],
      },
    };
    const { json: plan } = await studio.api("POST", "/changes/plan", body);
    expect(plan).toMatchObject({ total: 3, projects: [] });
    expect(plan.items[0].said).toEqual([
      { name: "supplier", before: "none", after: "Harrow & Quill" },
      { name: "family", before: "stone", after: "brick" },
      { name: "tags", before: "old", after: "north, old" },
    ]);
    // A plan leaves nothing behind.
    expect(await material(ids[0])).toMatchObject({
      family: "stone",
      tags: ["old"],
      source: { supplier: null },
    });

    const done = await change(body);
    expect(done.counts).toMatchObject({ changed: 3 });
    expect(await material(ids[1])).toMatchObject({
      family: "brick",
      familyFrom: "person",
      tags: ["north", "Old"],
    });
    expect((await change(body)).counts).toMatchObject({ changed: 0, same: 3 });

    await studio.api("PATCH", `/materials/${ids[0]}/facts`, { family: "tile" });
    expect((await undo(done.id)).counts).toMatchObject({ undone: 3 });
    expect(await material(ids[0])).toMatchObject({
      family: "tile",
      tags: ["old"],
      source: { supplier: null },
    });
    expect(await material(ids[1])).toMatchObject({ family: null, familyFrom: "nothing", tags: [] });
  });

  test("which projects hold any of them is said before", async () => {
    const [id, other] = await makeMaterials(2);
    const project = (await studio.api("POST", "/projects", { name: "Boat shed" })).json.id;
    await studio.api("PUT", `/projects/${project}/materials`, { add: [id], remove: [] });
    const { json } = await studio.api("POST", "/changes/plan", {
      ...{ kind: "facts", materials: [id, other], facts: { addTags: ["wet"] } },
    });
    expect(json.projects).toEqual([{ id: project, name: "Boat shed", materials: 1 }]);
  });

  test("among them those that would lose or get one by a collection that they share", async () => {
    const [id, other] = await makeMaterials(2);
    const shared = async (collection: string, name: string) => {
      const { id: made } = await studio.ask("POST", "/collections", { name: collection });
      const { id: project } = await studio.ask("POST", "/projects", { name });
      await studio.ask("PUT", `/projects/${project}/collections`, { add: [made], remove: [] });
      return { made, project };
    };
    const [from, to] = [await shared("Slips", "Slipway"), await shared("Sheds", "Net shed")];
    await studio.ask("PUT", `/collections/${from.made}/materials`, { add: [id], remove: [] });
    const touched = async (asked: object) =>
      (await studio.ask("POST", "/changes/plan", asked)).projects as object[];
    const slipway = { id: from.project, name: "Slipway", materials: 1 };
    expect(await touched({ kind: "swap", materials: [id], to: other })).toEqual([slipway]);
    expect(await touched({ kind: "place", materials: [id], outOf: from.made, into: to.made })).toEqual([
      slipway,
      { id: to.project, name: "Net shed", materials: 1 },
    ]);
  });
});

describe("names of many", () => {
  test("by a rule with numbers, and back; a name that somebody gave since stays", async () => {
    const ids = await makeMaterials(2);
    const before = await Promise.all(ids.map(material));
    const done = await change({ kind: "name", materials: ids, rule: "Brick render 01" });
    expect(done.items.map(({ name }: { name: string }) => name)).toEqual([
      "Brick render 01",
      "Brick render 02",
    ]);
    await studio.api("PATCH", `/materials/${ids[1]}`, { name: "Mine" });
    const undone = await undo(done.id);
    expect(undone.counts).toMatchObject({ undone: 1, kept: 1 });
    expect(await material(ids[0])).toMatchObject({ name: before[0].name, family: null });
    expect((await material(ids[1])).name).toBe("Mine");
  });

  test("a rule that gives all one name is refused", async () => {
    const ids = await makeMaterials(1);
    const { status, json } = await studio.api("POST", "/changes", {
      kind: "name",
      materials: ids,
      rule: "Brick",
    });
    expect(status).toBe(422);
    expect(json.pointer).toBe("/rule");
  });
});

describe("out of the library", () => {
  test("and back again; for those alone who keep it", async () => {
    const ids = await makeMaterials(2);
    const body = { kind: "delete", materials: ids };
    expect(
      (await studio.api("POST", "/changes", body, { token: (await studio.addPerson("make")).token })).status,
    ).toBe(403);
    const done = await change(body);
    expect((await studio.api("GET", `/materials/${ids[0]}`)).status).toBe(404);
    await undo(done.id);
    expect((await studio.api("GET", `/materials/${ids[0]}`)).status).toBe(200);
  });
});

test("what cannot be asked is refused, and says why", async () => {
  const [id] = await makeMaterials(1);
  const ask = async (body: object) => (await studio.api("POST", "/changes", body)).status;
  expect(await ask({ kind: "facts", materials: [id], facts: {} })).toBe(422);
  expect(await ask({ kind: "facts", materials: [id, id], facts: { family: "brick" } })).toBe(422);
  expect(await ask({ kind: "facts", materials: [], facts: { family: "brick" } })).toBe(422);
  expect(await ask({ kind: "turn", materials: [id] })).toBe(422);
  const strange = "00000000-0000-4000-8000-000000000000";
  expect(await ask({ kind: "facts", materials: [id, strange], facts: { family: "brick" } })).toBe(422);
  expect(
    (await studio.api("GET", "/changes")).json.items.every(({ counts }: { counts: object }) => counts),
  ).toBe(true);
});

test("what a form carries passes the same gate, escapes as well; what is no JSON is refused", async () => {
  const [id] = await makeMaterials(1);
  const { readAsked } = await import("#server/change/commands");
  const asked = { kind: "facts", materials: [id], facts: { addTags: ["we\u0000t"] } };
  expect(readAsked(JSON.stringify(asked))).toMatchObject({ facts: { addTags: ["wet"] } });
  expect(() => readAsked("{")).toThrow("cannot be read");
  expect(() => readAsked(JSON.stringify({ ...asked, materials: ["x"] }))).toThrow("is not an id");
});

describe("grades and places of many", () => {
  test("all are finished as one grade, told value by value, and undone but for what was saved since", async () => {
    const [one, other] = await makeMaterials(2);
    const body = { kind: "grade", materials: [one, other], grade: "Polished" };
    const { json: plan } = await studio.api("POST", "/changes/plan", body);
    expect(plan.items[0].said).toContainEqual({ name: "surface grade", before: "none", after: "polished" });
    expect((await material(one)).revision).toBe(1);
    const done = await change(body);
    expect(done.counts).toMatchObject({ changed: 2 });
    expect((await material(one)).finish).toMatchObject({ grade: "polished", roughness: 0.09 });
    expect((await change(body)).counts).toMatchObject({ same: 2 });
    await studio.api("PATCH", `/materials/${other}`, { finish: { roughness: 0.5 } });
    const undone = await undo(done.id);
    expect(undone.counts).toMatchObject({ undone: 1, kept: 1 });
    expect((await material(one)).finish).not.toHaveProperty("grade", "polished");
    expect((await material(other)).finish.roughness).toBe(0.5);
    const none = await studio.api("POST", "/changes/plan", { ...body, grade: "buttered" });
    expect(none.json.items[0].reason).toContain("no grade “buttered”");
  });

  test("they leave one collection for another, and come back; who lay elsewhere only comes in", async () => {
    const [one, other] = await makeMaterials(2);
    const collection = async (name: string, add: string[]) => {
      const { id } = (await studio.api("POST", "/collections", { name })).json;
      await studio.api("PUT", `/collections/${id}/materials`, { add });
      return id as string;
    };
    const [outOf, into] = [await collection("Old walls", [one]), await collection("New walls", [])];
    const lies = async () =>
      Promise.all(
        [outOf, into].map(async (id) =>
          (await studio.api("GET", `/collections/${id}`)).json.materials.toSorted(),
        ),
      );
    const done = await change({ kind: "place", materials: [one, other], outOf, into });
    expect(done.counts).toMatchObject({ changed: 2 });
    expect(await lies()).toEqual([[], [one, other].sort()]);
    await undo(done.id);
    expect(await lies()).toEqual([[one], []]);
    expect((await studio.api("POST", "/changes", { kind: "place", materials: [one] })).status).toBe(422);
    const gone = { kind: "place", materials: [one], into: "00000000-0000-4000-8000-000000000000" };
    expect((await change(gone)).items[0]).toMatchObject({
      state: "refused",
      reason: expect.stringContaining("no such collection"),
    });
  });
});
