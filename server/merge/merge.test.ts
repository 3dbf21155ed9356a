import { afterAll, beforeAll, beforeEach, expect, test } from "@jest/globals";
import { openTestStudio, picture, takeIn, type TestStudio } from "#server/testing/testStudio";

let studio: TestStudio;
let turn = 0;
let first: string;
let second: string;
let collection: string;
let project: string;
beforeAll(async () => (studio = await openTestStudio()));
afterAll(() => studio.close());

const ask: TestStudio["ask"] = (...asked) => studio.ask(...asked);
async function material(files: Record<string, Buffer>): Promise<string> {
  const intake = await takeIn(studio, files);
  return (await ask("POST", `/intakes/${intake.id}/accept`, { all: true })).materials[0].id;
}

beforeEach(async () => {
  turn++;
  const color = `#${(0x40 + turn * 9).toString(16)}6050`;
  first = await material({ [`old${turn}.png`]: await picture(color, 64) });
  second = await material({
    [`new${turn}_basecolor.png`]: await picture(color, 128),
    [`new${turn}_height.png`]: await picture(`#${(0x40 + turn * 9).toString(16).repeat(3)}`, 128),
  });
  await ask("PUT", `/materials/${first}/repeat`, { method: "size", width: 900, height: 900 });
  await ask("PATCH", `/materials/${second}/facts`, { tags: ["wet"], product: "Flint" });
  collection = (await ask("POST", "/collections", { name: `Walls ${turn}` })).id;
  await ask("PUT", `/collections/${collection}/materials`, { add: [second] });
  project = (await ask("POST", "/projects", { name: `House ${turn}` })).id;
  await ask("PUT", `/projects/${project}/collections`, { add: [collection] });
});

const plan = () => ask("POST", "/merges/plan", { first, second });
const merge = (body: object) => studio.api("POST", "/merges", body);
const read = (id: string) => ask("GET", `/materials/${id}`);
/** Which of the two the library shows. */
const inLibrary = async () =>
  ((await ask("GET", "/materials?limit=200")).items as { id: string }[])
    .map(({ id }) => id)
    .filter((id) => id === first || id === second);
const ofProject = async () =>
  (await ask("GET", `/projects/${project}`)).revisions
    .map(({ material, taken }: { material: string; taken: number }) => [material, taken])
    .sort() as [string, number][];
const ofCollection = async () => (await ask("GET", `/collections/${collection}`)).materials as string[];

test("the better of each is one material; the project keeps what it took until it moves on; undone, there are two again", async () => {
  const proposed = await plan();
  // Used more, and with more pixels; the size is known of the other alone.
  expect(proposed.choice).toEqual({ kept: 1, name: 1, maps: 1, size: 0, finish: 1, facts: 1 });
  // So that the one that is lost is in use.
  const { status, json } = await merge({ ...proposed, choice: { ...proposed.choice, kept: 0 } });
  expect({ status, kept: json.kept, lost: json.lost }).toEqual({ status: 201, kept: first, lost: second });
  expect(await read(first)).toMatchObject({
    name: `New${turn}`,
    repeat: { width: 900, height: 900 },
    sizeState: "known",
    tags: ["wet"],
    source: { product: "Flint" },
  });
  expect((await read(first)).maps.map(({ role }: { role: string }) => role).sort()).toEqual([
    "base_color",
    "height",
  ]);
  expect(await inLibrary()).toEqual([first]);
  expect(await ofCollection()).toEqual([first]);
  const took = (await ofProject()).find(([id]) => id === second);
  expect(took).toEqual([second, 1]);

  expect((await ask("POST", `/merges/${json.id}/undo`)).kept).toBe(first);
  expect(await read(first)).toMatchObject({ name: `Old${turn}`, sizeState: "known", tags: [] });
  expect((await read(first)).maps).toHaveLength(1);
  expect((await inLibrary()).sort()).toEqual([first, second].sort());
  expect(await ofCollection()).toEqual([second]);
  expect(await ofProject()).toEqual([[second, 1]]);
  expect((await studio.api("POST", `/merges/${json.id}/undo`)).status).toBe(404);
});

test("a project that moves on has the one that stayed in its place", async () => {
  const proposed = await plan();
  await merge({ ...proposed, choice: { ...proposed.choice, kept: 0 } });
  const { moveProjectOn } = await import("#server/project/commands");
  await moveProjectOn(project, [second]);
  const { revision } = await read(first);
  expect(await ofProject()).toEqual([[first, revision]]);
});

test("two who merge the other way round: one of them does; what was saved since is neither merged nor undone", async () => {
  const proposed = await plan();
  const both = await Promise.all(
    [0, 1].map((kept) => merge({ ...proposed, choice: { ...proposed.choice, kept } })),
  );
  expect(both.map(({ status }) => status).sort()).toEqual([201, 409]);
  const { id, kept, lost } = both.find(({ status }) => status === 201)!.json;
  expect(await inLibrary()).toEqual([kept]);
  const third = await material({ [`third${turn}.png`]: await picture("#123456", 64) });
  const late = { first: kept, second: third, seen: [1, 1], choice: proposed.choice };
  expect((await merge(late)).status).toBe(412);
  await ask("PATCH", `/materials/${kept}`, { finish: { roughness: 0.3 } });
  expect(await studio.api("POST", `/merges/${id}/undo`)).toMatchObject({
    status: 409,
    json: { detail: expect.stringContaining("was saved since") },
  });
  expect((await studio.api("POST", "/merges/plan", { first: kept, second: kept })).status).toBe(422);
  // Into what was merged itself nothing more is merged.
  const seen = [(await read(lost)).revision, 1];
  expect((await merge({ first: lost, second: third, seen, choice: proposed.choice })).status).toBe(409);
});

test("files that came twice are listed, and a list of merges says whose they are", async () => {
  const same = await picture(`#a0${(0x40 + turn).toString(16)}c0`, 96);
  const one = await material({ [`twice${turn}.png`]: same });
  const intake = await takeIn(studio, { [`again${turn}.png`]: same });
  // The library has all of it already: by default it is passed over, and said.
  const accept = (more: object) =>
    ask("POST", `/intakes/${intake.id}/accept`, { candidates: [{ id: intake.candidates[0].id, ...more }] });
  const passed = await accept({});
  expect(passed).toMatchObject({
    materials: [],
    skipped: [{ reason: expect.stringContaining(`has all of it already, as “Twice${turn}”`) }],
  });
  const two = (await accept({ onClash: "keep-both" })).materials[0].id;
  const { listSameFiles } = await import("#server/merge/sql");
  const { database } = await import("#server/db/database");
  expect(await listSameFiles(database(), 5)).toMatchObject([{ materials: [{ id: one }, { id: two }] }]);
  const { choice, seen } = await ask("POST", "/merges/plan", { first: one, second: two });
  await merge({ first: one, second: two, seen, choice });
  expect(await listSameFiles(database(), 5)).toEqual([]);
  expect((await ask("GET", "/merges")).items[0]).toMatchObject({ kept: { id: one }, lost: { id: two } });
});

test("a plain colour that turns out to have pictures lies as they do, and is plain again when that is undone", async () => {
  const { id } = await ask("POST", "/materials", {
    name: `Plain ${turn}`,
    layout: "plain",
    color: "#775544",
  });
  const { choice, seen } = await ask("POST", "/merges/plan", { first: id, second });
  expect(choice.maps).toBe(1);
  const merged = await merge({ first: id, second, seen, choice: { ...choice, kept: 0 } });
  expect(await read(id)).toMatchObject({ layout: "repeating", finish: { color: "#775544" } });
  await ask("POST", `/merges/${merged.json.id}/undo`);
  expect(await read(id)).toMatchObject({ layout: "plain", maps: [] });
});
