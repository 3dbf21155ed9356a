import { afterAll, beforeAll, expect, test } from "@jest/globals";
import { runQueued } from "#server/testing/runQueued";
import { openTestStudio, type TestStudio } from "#server/testing/testStudio";

let studio: TestStudio;
beforeAll(async () => (studio = await openTestStudio()));
afterAll(() => studio.close());

const ask: TestStudio["ask"] = (...asked) => studio.ask(...asked);
const plain = async (name: string): Promise<string> =>
  (await ask("POST", "/materials", { name, layout: "plain", color: "#884433" })).id;

test("a collection fills itself with what a search finds, for its projects too, until somebody stops it", async () => {
  const first = await plain("Harbour red");
  const other = await plain("Meadow green");
  const { id, materials, search } = await ask("POST", "/collections", {
    name: "All of the harbour",
    search: { q: "harbour", sort: "newest" },
  });
  expect({ materials, search }).toEqual({ materials: [first], search: { q: "harbour" } });
  const project = (await ask("POST", "/projects", { name: "Quay" })).id;
  await ask("PUT", `/projects/${project}/collections`, { add: [id] });

  const second = await plain("Harbour blue");
  await ask("PATCH", `/materials/${first}`, { name: "Field red" });
  await runQueued();
  expect((await ask("GET", `/collections/${id}`)).materials).toEqual([second]);
  expect(
    (await ask("GET", `/projects/${project}`)).revisions.map(
      ({ material }: { material: string }) => material,
    ),
  ).toEqual([second]);
  // Nothing that changes nothing makes work: filling ends.
  const { database } = await import("#server/db/database");
  await runQueued();
  const waiting = "SELECT FROM graphile_worker._private_jobs WHERE key LIKE 'fill-collections:%'";
  expect((await database().query(waiting)).rowCount).toBe(0);

  const byHand = await studio.api("PUT", `/collections/${id}/materials`, { add: [other] });
  expect(byHand).toMatchObject({
    status: 409,
    json: { detail: expect.stringContaining("“All of the harbour” fills itself by a search") },
  });
  expect((await ask("PATCH", `/collections/${id}`, { search: null })).search).toBeNull();
  await ask("PUT", `/collections/${id}/materials`, { add: [other] });
  await plain("Harbour grey");
  await runQueued();
  expect((await ask("GET", `/collections/${id}`)).materials.toSorted()).toEqual([second, other].sort());
});

test("a search that shows everything, or a name that is taken, makes none", async () => {
  const make = (body: object) => studio.api("POST", "/collections", body);
  expect((await make({ name: "Everything", search: { sort: "name" } })).status).toBe(422);
  expect((await make({ name: "All of the harbour", search: { q: "x" } })).status).toBe(409);
  const names = (await ask("GET", "/collections")).items.map(({ name }: { name: string }) => name);
  expect(names).toEqual(["All of the harbour"]);
});
