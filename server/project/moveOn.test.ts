import { afterAll, beforeAll, expect, test } from "@jest/globals";
import { database } from "#server/db/database";
import { moveProjectsOn } from "#server/project/commands";
import { listSamples } from "#server/material/samples";
import { findProjectPlace, listHoldings, listMovedOn, listNewer } from "#server/project/queries";
import { openTestStudio, type TestStudio } from "#server/testing/testStudio";

let studio: TestStudio;
beforeAll(async () => (studio = await openTestStudio()));
afterAll(() => studio.close());

const ask: TestStudio["ask"] = (...asked) => studio.ask(...asked);

test("a project is told what is newer, moves on with one or stays, and goes back in one act", async () => {
  const { id: wall } = await ask("POST", "/materials", { name: "Wall", layout: "plain", color: "#884433" });
  const { id: roof } = await ask("POST", "/materials", { name: "Roof", layout: "plain", color: "#334488" });
  const projects: string[] = [];
  for (const name of ["House", "Barn"]) {
    const { id } = await ask("POST", "/projects", { name });
    await ask("PUT", `/projects/${id}/materials`, { add: [wall, roof] });
    projects.push(id);
  }
  const [house, barn] = projects;
  const holds = async () =>
    Object.fromEntries(
      (await listHoldings(database(), wall)).map(({ name, taken, before }) => [name, [taken, before]]),
    );
  expect(await holds()).toEqual({ House: [1, null], Barn: [1, null] });
  expect(await listNewer(database(), house, 10)).toEqual([]);

  await ask("PATCH", `/materials/${wall}`, { finish: { roughness: 0.2 } });
  await ask("PATCH", `/materials/${roof}`, { finish: { roughness: 0.3 } });
  expect(await listNewer(database(), house, 10)).toMatchObject([
    { id: roof, taken: 1, newest: 2, note: "Changed roughness" },
    { id: wall, taken: 1, newest: 2 },
  ]);
  expect((await findProjectPlace(database(), house))!.newer.sort()).toEqual([wall, roof].sort());

  await ask("POST", `/projects/${house}/move-on`, { materials: [wall] });
  expect(await holds()).toEqual({ House: [2, 1], Barn: [1, null] });
  expect(await listNewer(database(), house, 10)).toMatchObject([{ id: roof }]);
  expect(await listMovedOn(database(), house, 10)).toEqual([{ id: wall, name: "Wall", taken: 2, before: 1 }]);
  // Moving on with what is the newest forgets nothing.
  await ask("POST", `/projects/${house}/move-on`, { materials: [wall] });
  expect(await holds()).toEqual({ House: [2, 1], Barn: [1, null] });

  await ask("POST", `/projects/${house}/move-back`, { material: wall });
  expect(await holds()).toEqual({ House: [1, 2], Barn: [1, null] });
  expect(await listMovedOn(database(), house, 10)).toEqual([]);
  await moveProjectsOn(wall, [house, barn]);
  expect(await holds()).toEqual({ House: [2, 1], Barn: [2, 1] });

  expect((await studio.api("POST", `/projects/${barn}/move-back`, { material: roof })).status).toBe(409);
  const { token } = await studio.addPerson("look");
  const refused = await studio.api("POST", `/projects/${barn}/move-back`, { material: wall }, { token });
  expect(refused.status).toBe(403);
});

test("a project's wall shows what it took, by its own revisions: colour and light reflectance", async () => {
  const { id: door } = await ask("POST", "/materials", { name: "Door", layout: "plain", color: "#ffffff" });
  const { id: shed } = await ask("POST", "/projects", { name: "Shed" });
  await ask("PUT", `/projects/${shed}/materials`, { add: [door] });
  await ask("PATCH", `/materials/${door}`, { finish: { color: "#000000" } });
  const shown = async (asTakenBy?: string) => {
    const { items } = await listSamples(database(), { project: shed, ...(asTakenBy && { asTakenBy }) });
    return items.map(({ revision, color, lightReflectance }) => [revision, color, lightReflectance]);
  };
  expect(await shown()).toEqual([[2, "#000000", 0]]);
  expect(await shown(shed)).toEqual([[1, "#ffffff", expect.closeTo(100, 1)]]);
});
