import { afterAll, beforeAll, expect, test } from "@jest/globals";
import { openTestStudio, picture, takeIn, type TestStudio } from "#server/testing/testStudio";

let studio: TestStudio;
beforeAll(async () => (studio = await openTestStudio()));
afterAll(() => studio.close());

/** Two materials whose pictures were found to be alike. */
async function pairOf(one: string, other: string, colors: [string, string]) {
  const { database } = await import("#server/db/database");
  const { insertLikenesses } = await import("#server/likeness/writes");
  const ids: string[] = [];
  const hashes: string[] = [];
  for (const [at, name] of [one, other].entries()) {
    const intake = await takeIn(studio, { [`${name}.png`]: await picture(colors[at], 64) });
    hashes.push(intake.candidates[0].maps[0].sha256 ?? (await hashOf(intake.id)));
    const accepted = await studio.api("POST", `/intakes/${intake.id}/accept`, { all: true });
    ids.push(accepted.json.materials[0].id);
  }
  const likeness = { alike: 0.98, mirrored: false, turns: 0, shiftX: 0, shiftY: 0, tint: [1, 1, 1] };
  await insertLikenesses(database(), hashes[0], [{ sha256: hashes[1], likeness: likeness as never }]);
  const [first, second] = hashes.toSorted();
  const decide = (decision: string | null) => studio.api("PUT", "/likenesses", { first, second, decision });
  const lines = async () =>
    Promise.all(
      ids.map(async (id) => (await studio.api("GET", `/materials/${id}`)).json.line as string | null),
    );
  return { ids, decide, lines };
}
const hashOf = async (intake: string) =>
  (await studio.api("GET", `/intakes/${intake}/uploads`)).json.items[0].sha256 as string;

test("variants come into one line of their supplier, which is called what their names share, and leave it again", async () => {
  const { ids, decide, lines } = await pairOf("quay_brick_red", "quay_brick_flint", ["#a04030", "#606068"]);
  expect((await decide("variant")).status).toBe(200);
  // Nobody need know who makes them.
  expect(await lines()).toEqual(["Quay brick", "Quay brick"]);
  const { json } = await studio.api("GET", "/lines");
  expect(json.items).toMatchObject([{ name: "Quay brick", supplier: null, members: 2 }]);
  await decide(null);
  expect(await lines()).toEqual([null, null]);
  expect((await studio.api("GET", "/lines")).json.items).toEqual([]);
  await studio.api("PATCH", `/materials/${ids[0]}/facts`, { supplier: "Tidal Works" });
  await decide("variant");
  expect(await lines()).toEqual(["Quay brick", "Quay brick"]);
  expect((await studio.api("GET", "/lines")).json.items).toMatchObject([{ supplier: "Tidal Works" }]);
  await decide("different");
  expect(await lines()).toEqual([null, null]);
});

test("one that is in a line takes the other one in, and stays when that is taken back", async () => {
  const { ids, decide, lines } = await pairOf("oak", "ash", ["#a08050", "#c0b090"]);
  const { database } = await import("#server/db/database");
  const { findOrInsertLine, findOrInsertSupplier } = await import("#server/supplier/writes");
  const line = await findOrInsertLine(
    database(),
    await findOrInsertSupplier(database(), "Low Mill", null),
    "Long boards",
  );
  await database().query("UPDATE materials SET line = $1 WHERE id = $2", [line, ids[0]]);
  await decide("variant");
  expect(await lines()).toEqual(["Long boards", "Long boards"]);
  await decide(null);
  expect(await lines()).toEqual(["Long boards", null]);
});

test("where one of the two still waits, nothing becomes a line: not two materials that are one picture", async () => {
  const { ids, decide, lines } = await pairOf("fir", "larch", ["#805030", "#906040"]);
  const copy = await studio.ask("POST", "/materials", { from: ids[0], name: "Fir once more" });
  await studio.ask("DELETE", `/materials/${ids[1]}`);
  expect((await decide("variant")).status).toBe(200);
  expect((await lines())[0]).toBeNull();
  expect((await studio.api("GET", `/materials/${copy.id}`)).json.line).toBeNull();
});
