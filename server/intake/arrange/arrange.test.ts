import { afterAll, beforeAll, beforeEach, expect, test } from "@jest/globals";
import { runQueued } from "#server/testing/runQueued";
import { openTestStudio, picture, takeIn, type TestStudio } from "#server/testing/testStudio";

interface Shown {
  id: string;
  name: string;
  state: string;
  maps: { file: string; role: string }[];
  findings: { code: string }[];
}

let studio: TestStudio;
let intake: string;
let turn = 0;
beforeAll(async () => (studio = await openTestStudio()));
afterAll(() => studio.close());

beforeEach(async () => {
  turn++;
  const color = (n: number) => picture(`#${(0x30 + turn * 8 + n).toString(16)}5040`);
  const grey = (n: number) => picture(`#${(0x30 + turn * 8 + n).toString(16).repeat(3)}`);
  const { id } = await takeIn(studio, {
    [`wall${turn}_basecolor.png`]: await color(0),
    [`wall${turn}_height.png`]: await grey(0),
    [`floor${turn}_basecolor.png`]: await color(1),
    [`stray${turn}_roughness.png`]: await grey(1),
  });
  intake = id;
});

const read = async (): Promise<Shown[]> => (await studio.api("GET", `/intakes/${intake}`)).json.candidates;
const lay = async () =>
  Object.fromEntries(
    (await read()).map(({ name, maps }) => [
      name.replace(/\d+/, ""),
      maps.map(({ file, role }) => `${file.replace(/\d+/, "")} ${role}`).sort(),
    ]),
  );
const of = async (name: string) => (await read()).find((one) => one.name === `${name}${turn}`)!;
const move = (candidate: string, file: string, to: object) =>
  studio.api("POST", `/intakes/${intake}/moves`, { files: [{ candidate, file }], to });
const undo = (id: string) => studio.api("POST", `/moves/${id}/undo`);

const AS_READ = {
  Wall: ["wall_basecolor.png base_color", "wall_height.png height"],
  Floor: ["floor_basecolor.png base_color"],
  Stray: ["stray_roughness.png specular_roughness"],
};

test("a file goes to another candidate, which is judged anew; one that is empty is gone, and undone it is back", async () => {
  expect(await lay()).toEqual(AS_READ);
  const [floor, stray] = [await of("Floor"), await of("Stray")];
  expect(floor.findings.map(({ code }) => code)).toContain("single-picture");
  const { status, json } = await move(stray.id, `stray${turn}_roughness.png`, { candidate: floor.id });
  expect({ status, candidate: json.candidate }).toEqual({ status: 201, candidate: floor.id });
  await runQueued();
  const { Stray: _, ...others } = AS_READ;
  expect(await lay()).toEqual({
    ...others,
    Floor: ["floor_basecolor.png base_color", "stray_roughness.png specular_roughness"],
  });
  expect((await of("Floor")).findings.map(({ code }) => code)).not.toContain("single-picture");
  expect((await undo(json.id)).status).toBe(200);
  await runQueued();
  expect(await lay()).toEqual(AS_READ);
  expect((await of("Floor")).findings.map(({ code }) => code)).toContain("single-picture");
  expect((await undo(json.id)).status).toBe(404);
});

test("a file becomes a material of its own; what the set has already is asked there", async () => {
  const [wall, floor] = [await of("Wall"), await of("Floor")];
  expect((await move(wall.id, `wall${turn}_height.png`, { own: true })).status).toBe(201);
  expect((await move(floor.id, `floor${turn}_basecolor.png`, { candidate: wall.id })).status).toBe(201);
  const now = await read();
  expect(now.map(({ maps }) => maps.map(({ role }) => role).sort()).sort()).toEqual([
    ["base_color", "unknown"],
    ["height"],
    ["specular_roughness"],
  ]);
});

test("a file is given to a material of the library as its newest revision, and taken back", async () => {
  const wall = await of("Wall");
  const { materials } = (
    await studio.api("POST", `/intakes/${intake}/accept`, { candidates: [{ id: wall.id }] })
  ).json;
  const material = materials[0].id;
  const stray = await of("Stray");
  const file = `stray${turn}_roughness.png`;
  const given = await move(stray.id, file, { material });
  expect(given).toMatchObject({ status: 201, json: { material } });
  const has = async () => {
    const { revision, maps } = (await studio.api("GET", `/materials/${material}`)).json;
    return { revision, roles: maps.map(({ role }: { role: string }) => role).sort() };
  };
  expect(await has()).toEqual({ revision: 2, roles: ["base_color", "height", "specular_roughness"] });
  expect((await studio.api("GET", `/intakes/${intake}`)).json.ignored).toContainEqual(
    expect.objectContaining({ file, reason: `It was given to Wall${turn}.` }),
  );
  expect((await undo(given.json.id)).status).toBe(200);
  expect(await has()).toEqual({ revision: 3, roles: ["base_color", "height"] });
  expect((await studio.api("GET", `/intakes/${intake}`)).json.ignored).toEqual([]);
  expect(await of("Stray")).toMatchObject({ maps: [{ file }] });
  // It has colours already.
  const floor = await of("Floor");
  expect(await move(floor.id, `floor${turn}_basecolor.png`, { material })).toMatchObject({
    status: 422,
    json: { detail: expect.stringContaining("has a base color map already") },
  });
});

test("what was changed since is not undone, nor is anything moved that is not there", async () => {
  const [wall, floor, stray] = [await of("Wall"), await of("Floor"), await of("Stray")];
  const height = `wall${turn}_height.png`;
  const first = await move(wall.id, height, { candidate: floor.id });
  const second = await move(floor.id, height, { candidate: stray.id });
  expect((await undo(first.json.id)).status).toBe(409);
  expect((await undo(second.json.id)).status).toBe(200);
  expect((await undo(first.json.id)).status).toBe(200);
  expect(await lay()).toEqual(AS_READ);

  expect((await move(wall.id, "no such.png", { own: true })).status).toBe(422);
  expect((await move(wall.id, height, { candidate: wall.id })).status).toBe(422);
  expect((await move("00000000-0000-4000-8000-000000000000", height, { own: true })).status).toBe(409);
  // Two people at once: the file is in one place.
  const both = await Promise.all([
    move(wall.id, height, { candidate: floor.id }),
    move(wall.id, height, { candidate: stray.id }),
  ]);
  expect(both.map(({ status }) => status).sort()).toEqual([201, 422]);
  await runQueued();
  expect((await read()).flatMap(({ maps }) => maps.filter(({ file }) => file === height))).toHaveLength(1);
  await studio.api("POST", `/intakes/${intake}/accept`, { all: true });
  expect((await undo(both.find(({ status }) => status === 201)!.json.id)).status).toBe(409);
});
