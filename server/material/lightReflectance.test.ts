import { afterAll, beforeAll, expect, test } from "@jest/globals";
import { sampleSet } from "#core/judge/testing";
import { encode } from "#server/pixels/encode";
import { openTestStudio, takeIn, type TestStudio } from "#server/testing/testStudio";

let studio: TestStudio;
let wall: string;
beforeAll(async () => {
  studio = await openTestStudio();
  const intake = await takeIn(studio, {
    "wall_basecolor.png": Buffer.from(await encode(sampleSet("brick").base_color, "png")),
  });
  wall = (await studio.api("POST", `/intakes/${intake.id}/accept`, { all: true })).json.materials[0].id;
});
afterAll(() => studio.close());

const valueOf = async (id: string): Promise<number | null> =>
  (await studio.api("GET", `/materials/${id}`)).json.lightReflectance;
const plain = async (name: string, color: string): Promise<string> =>
  (await studio.api("POST", "/materials", { name, layout: "plain", color })).json.id;

test("is known of what came in and of a plain colour, and follows the finish", async () => {
  const before = (await valueOf(wall))!;
  expect(before).toBeGreaterThan(5);
  expect(before).toBeLessThan(40);
  await studio.api("PATCH", `/materials/${wall}`, { finish: { brightnessStops: -1 } });
  expect((await valueOf(wall))! / before).toBeCloseTo(0.5, 1);
  expect(await valueOf(await plain("Chalk", "#ffffff"))).toBeCloseTo(100, 4);
  const glass = await plain("Pane", "#ffffff");
  await studio.api("PATCH", `/materials/${glass}`, { finish: { transmissionWeight: 1 } });
  expect(await valueOf(glass)).toBeNull();
});

test("finds materials that lie between two values", async () => {
  await plain("Midnight", "#101010");
  await plain("Pewter", "#808080");
  const names = async (query: string) =>
    (await studio.api("GET", `/materials?${query}`)).json.items.map(({ name }: { name: string }) => name);
  expect(await names("reflectsFrom=15&reflectsTo=30")).toEqual(["Pewter"]);
  expect(await names("reflectsTo=2")).toEqual(["Midnight"]);
  expect(await names("reflectsFrom=90")).toEqual(["Chalk"]);
  expect((await studio.api("GET", "/materials?reflectsFrom=pale")).status).toBe(422);
});

test("is read later of what was saved before anybody could say it", async () => {
  const { database } = await import("#server/db/database");
  const { reflectMissing } = await import("#server/material/lightReflectance");
  const { askToReadAnew, readAnew } = await import("#server/images/readAnew");
  const known = await valueOf(wall);
  const db = database();
  await db.query("DELETE FROM picture_colors");
  await db.query("UPDATE revisions SET light_reflectance = NULL WHERE material = $1", [wall]);
  expect(await valueOf(wall)).toBeNull();
  await askToReadAnew(db);
  const asked = await db.query("SELECT FROM graphile_worker.jobs WHERE task_identifier = 'read-anew'");
  expect(asked.rowCount).toBe(1);
  await readAnew("");
  expect(await reflectMissing(db)).toBe(1);
  expect(await valueOf(wall)).toBeCloseTo(known!, 4);
  expect(await reflectMissing(db)).toBe(0);
});
