import { randomUUID } from "node:crypto";
import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import { openTestStudio, picture, takeIn, type TestStudio } from "#server/testing/testStudio";
import type { Db } from "#server/db/database";

/** What the database itself does not let happen, whatever the program does. */
let studio: TestStudio;
let db: Db;
let material: string;
let sha256: string;
beforeAll(async () => {
  studio = await openTestStudio();
  const { database } = await import("#server/db/database");
  db = database();
  const intake = await takeIn(studio, {
    "oak.png": await picture("#804020"),
    "oak_normal.png": await picture("#8080ff"),
  });
  material = (await studio.api("POST", `/intakes/${intake.id}/accept`, { all: true })).json.materials[0].id;
  sha256 = (await studio.api("GET", `/materials/${material}`)).json.maps[0].sha256;
});
afterAll(() => studio.close());

const refuses = async (sql: string, values: unknown[], constraint: string) => {
  const error: { constraint?: string; message: string } = await db.query(sql, values).then(
    () => ({ message: "it was allowed" }),
    (refused) => refused,
  );
  expect(error.constraint ?? error.message).toContain(constraint);
};

describe("the database refuses", () => {
  test.each([
    [
      "a known size without a repeat",
      "UPDATE revisions SET size_state = 'known' WHERE material = $1",
      "revisions_check",
    ],
    [
      "half a repeat",
      "UPDATE revisions SET size_state = 'known', repeat_width_mm = 5 WHERE material = $1",
      "revisions_check",
    ],
    [
      "a repeat of nothing",
      "UPDATE revisions SET size_state = 'known', repeat_width_mm = 0, repeat_height_mm = 5 WHERE material = $1",
      "repeat_width_mm",
    ],
    ["an unknown layout", "UPDATE materials SET layout = 'sticker' WHERE id = $1", "materials_layout_check"],
    ["an unknown kind", "UPDATE materials SET kind = 'mood' WHERE id = $1", "materials_kind_check"],
    ["a material without a name", "UPDATE materials SET name = '' WHERE id = $1", "materials_name_check"],
    [
      "a file name that is a path",
      "UPDATE materials SET file_name = '../up' WHERE id = $1",
      "materials_file_name_check",
    ],
    [
      "a revision that does not exist",
      "UPDATE materials SET revision = 99 WHERE id = $1",
      "materials_current_revision",
    ],
    [
      "a direction on a map that is no normal map",
      "UPDATE maps SET normal_direction = '+Y' WHERE material = $1 AND role = 'base_color'",
      "maps_check",
    ],
    [
      "an unknown role",
      "UPDATE maps SET role = 'sparkle' WHERE material = $1 AND role = 'base_color'",
      "maps_role_fkey",
    ],
    [
      "two maps in one role",
      "UPDATE maps SET role = 'base_color', normal_direction = NULL WHERE material = $1",
      "maps_pkey",
    ],
    [
      "removing a material that an intake accepted",
      "DELETE FROM materials WHERE id = $1",
      "candidates_material_fkey",
    ],
  ])("%s", async (_, sql, constraint) => {
    await refuses(sql, [material], constraint);
  });

  test.each([
    [
      "a hash that is none",
      "INSERT INTO files (sha256, bytes, media_type) VALUES ('xyz', 1, 'image/png')",
      "files_sha256_check",
    ],
    [
      "two people of one address, in any case",
      "INSERT INTO people (name, email, level, password_hash) SELECT name, upper(email), level, '-' FROM people LIMIT 1",
      "people_email",
    ],
    [
      "an unknown level",
      "INSERT INTO people (name, email, level, password_hash) VALUES ('A', 'a@b.example', 'rule', '-')",
      "people_level_check",
    ],
    [
      "a destination outside its folder",
      "INSERT INTO destinations (name, folder) VALUES ('X', '../x')",
      "destinations_folder_check",
    ],
    [
      "a delivery without profiles",
      "INSERT INTO deliveries (person, profiles, plan) SELECT id, '{}', '[]' FROM people LIMIT 1",
      "deliveries_profiles_check",
    ],
    [
      "a delivery that is done without an account",
      "INSERT INTO deliveries (person, profiles, plan, state) SELECT id, '{gltf-2}', '[]', 'done' FROM people LIMIT 1",
      "deliveries_account",
    ],
    ["a failure without a reason", "UPDATE intakes SET state = 'failed'", "intakes_check"],
    [
      "an accepted candidate without a material",
      "UPDATE candidates SET state = 'accepted', material = NULL",
      "candidates_check",
    ],
  ])("%s", async (_, sql, constraint) => {
    await refuses(sql, [], constraint);
  });

  test("a file that a map needs to be forgotten", async () => {
    await refuses("DELETE FROM images WHERE sha256 = $1", [sha256], "maps_sha256_fkey");
    await refuses("DELETE FROM files WHERE sha256 = $1", [sha256], "fkey");
  });

  test("a collection inside itself, and two of one name in one place", async () => {
    const id = (await studio.api("POST", "/collections", { name: "Outer" })).json.id;
    await refuses("UPDATE collections SET parent = id WHERE id = $1", [id], "collections_no_ring");
    await refuses(
      "INSERT INTO collections (id, name, parent) VALUES ($1, 'Own', $1)",
      [randomUUID()],
      "collections_check",
    );
    await refuses("INSERT INTO collections (name) VALUES ('Outer')", [], "collections_name");
    await db.query("INSERT INTO collections (name, parent) VALUES ('Outer', $1)", [id]);
    await refuses("INSERT INTO collections (name, parent) VALUES ('Outer', $1)", [id], "collections_name");
  });
});

test("migrations can be run again, also by two processes at once", async () => {
  const { prepareDatabase } = await import("#server/main/prepare");
  await prepareDatabase(process.env.DATABASE_URL!);
  const { items } = (await studio.api("GET", "/profiles")).json;
  // None has a second one.
  expect(new Set(items.map(({ revision }: { revision: number }) => revision))).toEqual(new Set([1]));
});

test("queries are not compiled, which would take longer than they run", async () => {
  expect((await db.query("SHOW jit")).rows).toEqual([{ jit: "off" }]);
});

describe("names for the receiving end", () => {
  test.each([
    ["Harbour brick, red", /^harbour-brick-red-\d{4}$/],
    ["Straße größe Ünïcode", /^strasse-grosse-unicode-\d{4}$/],
    ["木目 🧱", /^mumu-bricks-\d{4}$/],
    ["Γρανίτης", /^granitis-\d{4}$/],
    ["…", /^material-\d{4}$/],
    ["../../etc/passwd", /^etc-passwd-\d{4}$/],
    ["a".repeat(200), /^a{60}-\d{4}$/],
    ["CON", /^con-\d{4}$/],
  ])("of %s are plain and cannot clash", async (name, expected) => {
    const rows = [];
    for (let n = 0; n < 2; n++) {
      const { json } = await studio.api("POST", "/materials", { name, layout: "plain", color: "#111111" });
      rows.push(
        (await db.query("SELECT file_name FROM materials WHERE id = $1", [json.id])).rows[0].file_name,
      );
    }
    for (const fileName of rows) expect(fileName).toMatch(expected);
    expect(rows[0]).not.toBe(rows[1]);
  });
});

test("how many materials are shown is kept as they come, go, come back and are merged, and is the same when it is added up", async () => {
  const { countMaterials } = await import("#server/material/queries");
  const counted = async () =>
    (
      await db.query(
        "SELECT count(*)::int AS n FROM materials WHERE deleted_at IS NULL AND merged_into IS NULL AND kind <> 'environment'",
      )
    ).rows[0].n;
  const plain = async (name: string) =>
    (await studio.ask("POST", "/materials", { name, layout: "plain", color: "#334455" })).id as string;
  const before = await countMaterials(db);
  const [a, b] = [await plain("Counted"), await plain("Counted too")];
  expect(await countMaterials(db)).toBe(before + 2);
  await db.query("UPDATE materials SET merged_into = $2 WHERE id = $1", [b, a]);
  expect(await countMaterials(db)).toBe(before + 1);
  await db.query("UPDATE materials SET merged_into = NULL, kind = 'environment' WHERE id = $1", [b]);
  expect(await countMaterials(db)).toBe(before + 1);
  await db.query("UPDATE materials SET kind = 'material' WHERE id = $1", [b]);
  await db.query("UPDATE materials SET deleted_at = now() WHERE id = $1", [a]);
  expect([await countMaterials(db), await counted()]).toEqual([before + 1, before + 1]);
  // Often enough that it has been added up many times.
  await db.query(`DO $$ BEGIN FOR i IN 1..4000 LOOP
    UPDATE materials SET deleted_at = CASE WHEN deleted_at IS NULL THEN now() END WHERE id = '${a}'; END LOOP; END $$`);
  expect([await countMaterials(db), await counted()]).toEqual([before + 1, before + 1]);
  const { rows } = await db.query("SELECT count(*)::int AS n FROM shown_counts");
  expect(rows[0].n).toBeLessThan(4000);
  await db.query("UPDATE materials SET deleted_at = NULL WHERE id = $1", [a]);
  expect([await countMaterials(db), await counted()]).toEqual([before + 2, before + 2]);
});
