import { afterAll, beforeAll, expect, test } from "@jest/globals";
import { runQueued } from "#server/testing/runQueued";
import { openTestStudio, type TestStudio } from "#server/testing/testStudio";

let studio: TestStudio;
beforeAll(async () => (studio = await openTestStudio()));
afterAll(() => studio.close());

const plain = async (name: string): Promise<string> =>
  (await studio.ask("POST", "/materials", { name, layout: "plain", color: "#8090a0" })).id;
const history = async (id: string) =>
  (await studio.ask("GET", `/materials/${id}/facts/history`)).items as {
    id: string;
    madeBy: string | null;
    fields: { name: string; before: string; after: string }[];
  }[];

test("facts have a history by whoever changed them, and each change is put back", async () => {
  const id = await plain("Groyne");
  const maker = await studio.addPerson("make");
  const facts = (change: object) =>
    studio.api("PATCH", `/materials/${id}/facts`, change, { token: maker.token });
  await facts({ supplier: "Tidal Works", productCode: "G-1", tags: ["wet"] });
  await facts({ supplier: "Skerry", licence: { name: "For the groyne" } });
  await studio.ask("PATCH", `/materials/${id}`, { name: "Groyne, weathered" });
  const [renamed, moved, first] = await history(id);
  expect(renamed).toMatchObject({
    madeBy: studio.person.name,
    fields: [{ name: "name", before: "Groyne", after: "Groyne, weathered" }],
  });
  expect(moved.madeBy).toBe(maker.person.name);
  expect(moved.fields).toEqual(
    expect.arrayContaining([
      { name: "supplier", before: "Tidal Works", after: "Skerry" },
      { name: "licence", before: "none", after: "For the groyne" },
    ]),
  );
  // Two tables were written in one act, which is one change.
  expect(first.fields.map(({ name }) => name).sort()).toEqual(["product code", "supplier", "tags"]);

  await studio.ask("POST", `/materials/${id}/facts/restore`, { change: moved.id });
  const back = await studio.ask("GET", `/materials/${id}`);
  expect(back).toMatchObject({
    name: "Groyne, weathered",
    licence: null,
    source: { supplier: "Tidal Works", productCode: "G-1" },
  });
  const [again] = await history(id);
  expect(again.fields).toContainEqual({ name: "supplier", before: "Skerry", after: "Tidal Works" });
  // And that is put back as well.
  await studio.ask("POST", `/materials/${id}/facts/restore`, { change: again.id });
  expect((await studio.ask("GET", `/materials/${id}`)).source.supplier).toBe("Skerry");
  const other = await plain("Elsewhere");
  const wrong = await studio.api("POST", `/materials/${other}/facts/restore`, { change: moved.id });
  expect(wrong.status).toBe(404);
});

test("an act on many is told in the name of who asked for it; what the program proposes is nobody's change", async () => {
  const ids = [await plain("Jetty A"), await plain("Jetty B")];
  const maker = await studio.addPerson("make");
  const asked = { kind: "facts", materials: ids, facts: { family: "stone", addTags: ["quay"] } };
  await studio.api("POST", "/changes", asked, { token: maker.token });
  await runQueued();
  for (const id of ids) {
    const [change, ...more] = await history(id);
    expect(more).toEqual([]);
    expect(change.madeBy).toBe(maker.person.name);
    expect(change.fields).toEqual([
      { name: "tags", before: "none", after: "quay" },
      { name: "family", before: "none", after: "stone" },
    ]);
  }
  const { database } = await import("#server/db/database");
  await database().query(
    "UPDATE materials SET family = 'metal', family_from = 'name' WHERE id = $1 AND family_from <> 'person'",
    [await plain("Rail")],
  );
  const rail = (await studio.ask("GET", "/materials?q=Rail")).items[0].id;
  expect(await history(rail)).toEqual([]);
});

test("who saves on what they had before them changes that alone, and hears of what somebody changed meanwhile", async () => {
  const id = await plain("Pontoon");
  const { changeFacts } = await import("#server/material/facts");
  const nothing = {
    supplier: null,
    product: null,
    productCode: null,
    page: null,
    family: null,
    tags: [],
    licence: null,
  };
  const mine = { ...nothing, licence: null, product: "Pontoon 4" };
  await studio.ask("PATCH", `/materials/${id}/facts`, { supplier: "Tidal Works" });
  // The form still shows no supplier: that is no wish to take it away.
  await changeFacts(id, mine, { ...nothing, isOver: false });
  expect((await studio.ask("GET", `/materials/${id}`)).source).toMatchObject({
    supplier: "Tidal Works",
    product: "Pontoon 4",
  });
  const late = changeFacts(id, { ...mine, supplier: "Skerry" }, { ...nothing, isOver: false });
  await expect(late).rejects.toMatchObject({
    status: 409,
    detail: expect.stringMatching(/supplier was changed meanwhile: it is Tidal Works now/),
  });
  await changeFacts(id, { ...mine, supplier: "Skerry" }, { ...nothing, isOver: true });
  expect((await studio.ask("GET", `/materials/${id}`)).source.supplier).toBe("Skerry");
});

test("a licence is edited for all that it covers, with a history", async () => {
  const ids = [await plain("Slip A"), await plain("Slip B")];
  await studio.ask("PATCH", `/materials/${ids[0]}/facts`, {
    licence: { name: "Slip terms", endsOn: "2031-05-01" },
  });
  const { id } = (await studio.ask("GET", `/materials/${ids[0]}`)).licence;
  await studio.ask("PATCH", `/materials/${ids[1]}/facts`, { licence: { id } });
  await studio.ask("PATCH", `/licences/${id}`, { endsOn: null, credit: "Slip & Sons", price: "bought" });
  const changed = await studio.ask("GET", `/licences/${id}`);
  expect(changed).toMatchObject({ name: "Slip terms", endsOn: null, credit: "Slip & Sons", price: "bought" });
  expect(changed.materials.map(({ name }: { name: string }) => name)).toEqual(["Slip A", "Slip B"]);
  const [change] = changed.changes;
  expect(change.fields).toContainEqual({ name: "last day", before: "2031-05-01", after: "none" });
  await studio.ask("POST", `/licences/${id}/restore`, { change: change.id });
  expect(await studio.ask("GET", `/licences/${id}`)).toMatchObject({
    endsOn: "2031-05-01",
    credit: null,
    price: "unknown",
  });
  await studio.ask("PATCH", `/materials/${ids[0]}/facts`, { licence: { name: "Taken name" } });
  expect((await studio.api("PATCH", `/licences/${id}`, { name: "Taken name" })).json.detail).toMatch(
    /already/,
  );
  expect((await studio.api("PATCH", `/licences/${id}`, { endsOn: "soon" })).status).toBe(422);
});
