import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import sharp from "sharp";
import { ciede2000, type Lab } from "#core/raster/ciede2000";
import { seededRandom } from "#core/pattern/random";
import { openTestStudio, picture, takeIn, type TestStudio } from "#server/testing/testStudio";

let studio: TestStudio;
beforeAll(async () => {
  studio = await openTestStudio();
});
afterAll(() => studio.close());

const plain = async (name: string, color: string): Promise<string> =>
  (await studio.api("POST", "/materials", { name, layout: "plain", color })).json.id;
/** Blots of so many pixels, the same ones for the same size. */
async function patterned(name: string, blot: number, [r, g, b]: readonly number[]): Promise<string> {
  const [side, random] = [128, seededRandom(blot)];
  const cells = Array.from({ length: side * side }, () => 0.4 + 0.6 * random());
  const data = Buffer.from(
    cells.flatMap((_, i) => {
      const at = (value: number) => Math.floor(value / blot);
      const cell = cells[at(Math.floor(i / side)) * side + at(i % side)];
      return [r * cell, g * cell, b * cell];
    }),
  );
  const file = await sharp(data, { raw: { width: side, height: side, channels: 3 } })
    .png()
    .toBuffer();
  const intake = await takeIn(studio, { [`${name}_basecolor.png`]: file });
  const { json } = await studio.api("POST", `/intakes/${intake.id}/accept`, { all: true });
  return json.materials[0].id;
}
const facts = (id: string, body: object) => studio.api("PATCH", `/materials/${id}/facts`, body);
const material = async (id: string) => (await studio.api("GET", `/materials/${id}`)).json;
const names = async (query: string): Promise<string[]> => {
  const { status, json } = await studio.api("GET", `/materials?${query}`);
  expect(status).toBe(200);
  return json.items.map(({ name }: { name: string }) => name);
};

describe("a family", () => {
  test("is metal where the maps say so and no name says more: by all of a map, or by a channel of one", async () => {
    const flat = (color: string) => picture(color, 40);
    const { json } = await studio.api(
      "POST",
      `/intakes/${
        (
          await takeIn(studio, {
            "kx7_basecolor.png": await flat("#8a8c90"),
            "kx7_metallic.png": await flat("#f4f4f4"),
            "kx8_basecolor.png": await flat("#8a8c40"),
            "kx8_metallic.png": await flat("#303030"),
            "kx9_basecolor.png": await flat("#8a4c40"),
            "kx9_orm.png": await flat("#ff60e8"),
          })
        ).id
      }/accept`,
      { all: true },
    );
    const found = await Promise.all(json.materials.map(({ id }: { id: string }) => material(id)));
    expect(found.map(({ name, family, familyFrom }) => [name, family, familyFrom]).sort()).toEqual([
      ["Kx7", "metal", "maps"],
      ["Kx8", null, "nothing"],
      ["Kx9", "metal", "maps"],
    ]);
  });

  test("is proposed as a set comes in: by its name, and else by its folder", async () => {
    const intake = await takeIn(studio, {
      "Oak_plain_basecolor.png": await picture("#8a6a4a", 64),
      "stone/set9_basecolor.png": await picture("#777770", 72),
    });
    const { json } = await studio.api("POST", `/intakes/${intake.id}/accept`, { all: true });
    const found = await Promise.all(json.materials.map(({ id }: { id: string }) => material(id)));
    expect(found.map(({ family, familyFrom }) => [family, familyFrom]).sort()).toEqual([
      ["stone", "folder"],
      ["timber", "name"],
    ]);
    expect(await names("family=timber")).toEqual(["Oak plain"]);
    // What a family is called finds it, and what lies in it does not find all of it.
    expect(await names("q=wood")).toEqual(["Oak plain"]);
    expect(await names("q=ash")).toEqual([]);
    expect(await names("q=wodo")).toEqual(["Oak plain"]);
  });

  test("that a person says stays, through new names too; a copy has it, and a proposal follows the name", async () => {
    const id = await plain("Larch shingle", "#9a8a70");
    expect(await material(id)).toMatchObject({ family: "timber", familyFrom: "name" });
    await studio.api("PATCH", `/materials/${id}`, { name: "Zinc shingle" });
    expect(await material(id)).toMatchObject({ family: "metal", familyFrom: "name" });
    // Saving what was proposed says nothing new.
    await facts(id, { family: "metal" });
    expect(await material(id)).toMatchObject({ familyFrom: "name" });
    await facts(id, { family: "tile", tags: ["roof", "Coast", "coast"] });
    await studio.api("PATCH", `/materials/${id}`, { name: "Larch shingle" });
    expect(await material(id)).toMatchObject({
      family: "tile",
      familyFrom: "person",
      tags: ["Coast", "roof"],
    });
    const copy = (await studio.api("POST", "/materials", { name: "Steel", from: id })).json;
    expect(copy).toMatchObject({ family: "tile", familyFrom: "person", tags: ["Coast", "roof"] });
    expect((await facts(id, { family: "wall" })).status).toBe(422);
    expect((await facts(id, { tags: ["x".repeat(41)] })).status).toBe(422);
    expect((await facts(id, { tags: ["wet, cold"] })).json.detail).toMatch(/comma/);
    expect((await facts(id, { family: null })).json.family).toBeNull();
    expect(await names("without=family&q=larch")).toEqual(["Larch shingle"]);
  });

  test("is that of what looks like it, where nothing else says one, and follows when somebody says otherwise", async () => {
    const { proposeNextFamilies } = await import("#server/material/families");
    const first = await patterned("zq1", 1, [200, 180, 160]);
    const before = await patterned("zq2", 1, [196, 182, 160]);
    expect(await material(before)).toMatchObject({ family: null, familyFrom: "nothing" });
    await facts(first, { family: "stone" });
    await proposeNextFamilies("0");
    expect(await material(before)).toMatchObject({ family: "stone", familyFrom: "look" });
    const [after, other] = [
      await patterned("zq3", 1, [198, 178, 163]),
      await patterned("zq4", 7, [200, 180, 160]),
    ];
    expect(await material(after)).toMatchObject({ family: "stone", familyFrom: "look" });
    expect(await material(other)).toMatchObject({ family: null, familyFrom: "nothing" });
    // By one that was told by its own look, nothing is told.
    await facts(first, { family: "tile" });
    await proposeNextFamilies("0");
    expect(await material(after)).toMatchObject({ family: "tile", familyFrom: "look" });
    await facts(before, { family: "brick" });
    await proposeNextFamilies("0");
    expect(await material(after)).toMatchObject({ family: null, familyFrom: "nothing" });
    expect(await material(first)).toMatchObject({ family: "tile", familyFrom: "person" });
    // Whoever says that it is of none takes what others had by it as well.
    await facts(before, { family: "tile" });
    await proposeNextFamilies("0");
    expect(await material(after)).toMatchObject({ family: "tile", familyFrom: "look" });
    for (const id of [first, before]) await facts(id, { family: null });
    await proposeNextFamilies("0");
    expect(await material(after)).toMatchObject({ family: null, familyFrom: "nothing" });
  });

  test("is proposed later for what was there before", async () => {
    const { database } = await import("#server/db/database");
    const { askForFamilies, proposeNextFamilies } = await import("#server/material/families");
    const id = await plain("Slate, riven", "#404448");
    const db = database();
    await db.query("UPDATE materials SET family = NULL, family_from = NULL WHERE id = $1", [id]);
    await askForFamilies(db);
    const jobs = "SELECT FROM graphile_worker.jobs WHERE task_identifier = 'propose-families'";
    expect((await db.query(jobs)).rowCount).toBe(1);
    await proposeNextFamilies("0");
    expect(await material(id)).toMatchObject({ family: "stone", familyFrom: "name" });
    await db.query("DELETE FROM graphile_worker._private_jobs");
    await askForFamilies(db);
    expect((await db.query(jobs)).rowCount).toBe(0);
  });
});

describe("a search", () => {
  test("knows near colours as the eye does", async () => {
    const { database } = await import("#server/db/database");
    const random = seededRandom(4711);
    const labs = Array.from({ length: 200 }, (): Lab => [
      random() * 100,
      random() * 200 - 100,
      random() < 0.1 ? 0 : random() * 200 - 100,
    ]);
    const pairs = labs.slice(1).map((lab, at) => [...labs[at], ...lab]);
    pairs.push([50, 0, 0, 60, 0, 0], [50, 2.6772, -79.7751, 50, 0, -82.7485]);
    const { rows } = await database().query(
      `SELECT ciede2000(cube(ARRAY[(p->>0)::float8, (p->>1)::float8, (p->>2)::float8]),
          cube(ARRAY[(p->>3)::float8, (p->>4)::float8, (p->>5)::float8])) AS far
         FROM jsonb_array_elements($1) WITH ORDINALITY AS pairs(p, n) ORDER BY n`,
      [JSON.stringify(pairs)],
    );
    pairs.forEach(([l1, a1, b1, l2, a2, b2], at) =>
      expect(rows[at].far).toBeCloseTo(ciede2000([l1, a1, b1], [l2, a2, b2]), 6),
    );
  });

  test("finds what is of a picked colour, the nearest first, after the finish", async () => {
    await plain("Sky", "#4a7ab0");
    const near = await plain("Water", "#4f7fb8");
    await plain("Night", "#16243c");
    expect(await names("color=%234a7ab0")).toEqual(["Sky", "Water"]);
    expect(await names("color=%234f7fb8&within=0.5")).toEqual(["Water"]);
    await studio.api("PATCH", `/materials/${near}`, { finish: { brightnessStops: -3 } });
    expect(await names("color=%234a7ab0")).toEqual(["Sky"]);
    expect((await studio.api("GET", "/materials?color=blue")).status).toBe(422);
    expect((await studio.api("GET", "/materials?within=4")).json.pointer).toBe("/within");
  });

  test("finds by tag, module, repeat, who and when, and by what is missing", async () => {
    const intake = await takeIn(studio, { "Garden_basecolor.png": await picture("#a05030", 80) });
    const accepted = await studio.api("POST", `/intakes/${intake.id}/accept`, { all: true });
    const { id } = accepted.json.materials[0];
    await studio.api("PUT", `/materials/${id}/repeat`, {
      ...{ method: "modules", across: 4, up: 12, workSize: { width: 215, height: 65 }, joint: 10 },
    });
    await facts(id, { tags: ["courtyard"], supplier: "Fenland Clay" });
    expect(await names("tag=courtyard")).toEqual(["Garden"]);
    expect(await names("q=courtyard")).toEqual(["Garden"]);
    expect(await names("moduleWidth=215&moduleHeight=65")).toEqual(["Garden"]);
    expect(await names("moduleWidth=210")).toEqual([]);
    expect(await names("repeatFrom=890&repeatTo=910")).toEqual(["Garden"]);
    expect(await names("supplier=fenland+clay")).toEqual(["Garden"]);
    expect(await names("without=geometry_normal&q=garden")).toEqual(["Garden"]);
    expect(await names("without=supplier&q=garden")).toEqual([]);
    expect(await names("days=1&q=garden")).toEqual(["Garden"]);
    const { database } = await import("#server/db/database");
    await database().query("UPDATE materials SET created_at = now() - interval '8 days' WHERE id = $1", [id]);
    expect(await names("days=7&q=garden")).toEqual([]);
    const { rows } = await database().query("SELECT created_by FROM materials WHERE id = $1", [id]);
    expect(await names(`by=${rows[0].created_by}&q=garden`)).toEqual(["Garden"]);
    expect(await names(`by=${id}`)).toEqual([]);
  });

  test("finds by licence and by what the supplier's sheet says, and puts the most used first", async () => {
    const id = await plain("Boardwalk", "#7a6a58");
    await facts(id, { licence: { name: "One season", price: "bought", endsOn: "2020-01-01" } });
    expect(await names("licence=ended")).toEqual(["Boardwalk"]);
    expect(await names("licence=free&q=boardwalk")).toEqual([]);
    const { database } = await import("#server/db/database");
    await database().query(
      `UPDATE sources SET sheet = '{"line": {"properties": {"slip": "R11", "frost": "F2", "fire": "B"}}}'
        WHERE id = (SELECT source FROM materials WHERE id = $1)`,
      [id],
    );
    expect(await names("slip=R10")).toEqual(["Boardwalk"]);
    expect(await names("slip=R12")).toEqual([]);
    expect(await names("frost=F1&fire=C")).toEqual(["Boardwalk"]);
    expect(await names("fire=A2")).toEqual([]);
    const project = (await studio.api("POST", "/projects", { name: "Quay" })).json.id;
    await studio.api("PUT", `/projects/${project}/materials`, { add: [id] });
    expect((await names("sort=used"))[0]).toBe("Boardwalk");
  });
});

test("what looks like another comes with it, the likest first", async () => {
  const pattern = async (tint: string, seed: string) =>
    takeIn(studio, { [`${seed}_basecolor.png`]: await picture(tint, 96) });
  const { sampleSet } = await import("#core/judge/testing");
  const { encode } = await import("#server/pixels/encode");
  const brick = sampleSet("brick").base_color;
  // The same wall, half a shade darker.
  const darker = { ...brick, data: brick.data.map((code) => Math.round(code * 0.93)) };
  for (const [name, raster] of [
    ["Wall one", brick],
    ["Wall two", darker],
  ] as const) {
    const intake = await takeIn(studio, {
      [`${name.replace(" ", "_")}_basecolor.png`]: Buffer.from(await encode(raster, "png")),
    });
    await studio.api("POST", `/intakes/${intake.id}/accept`, { all: true });
  }
  const other = await pattern("#20a040", "Meadow");
  await studio.api("POST", `/intakes/${other.id}/accept`, { all: true });
  const one = (await studio.api("GET", "/materials?q=wall+one")).json.items[0].id;
  const found = await names(`like=${one}`);
  expect(found.slice(0, 2)).toEqual(["Wall one", "Wall two"]);
  expect(await names(`like=${await plain("Nothing to see", "#777777")}`)).toEqual([]);
});

describe("a saved search", () => {
  test("is kept for all, once under a name, finds what it found, and is deleted", async () => {
    const search = { q: "garden", family: "brick", repeatTo: 900.5 };
    const { status, json } = await studio.api("POST", "/searches", { name: "Yard", search });
    expect(status).toBe(201);
    expect(json).toMatchObject({ name: "Yard", search });
    expect((await studio.api("POST", "/searches", { name: "yard", search })).json.detail).toMatch(/already/);
    expect((await studio.api("POST", "/searches", { name: "All", search: {} })).status).toBe(422);
    expect((await studio.api("POST", "/searches", { name: "Odd", search: { family: "x" } })).status).toBe(
      422,
    );
    expect((await studio.api("GET", "/searches")).json.items).toEqual([json]);
    await studio.api("DELETE", `/searches/${json.id}`);
    expect((await studio.api("GET", "/searches")).json.items).toEqual([]);
    expect((await studio.api("DELETE", `/searches/${json.id}`)).status).toBe(404);
  });
});

test("what is found by hue and lightness: greys apart, from warm to cool and from light to dark, within the search", async () => {
  const { listHues } = await import("#server/material/hues");
  const { database } = await import("#server/db/database");
  const hues = async (q: string) => listHues(database(), { q, sort: "color" });
  const colors = ["#f2f2f2", "#1a1a1a", "#c02020", "#c8c020", "#2040c0", "#101840"];
  for (const [at, color] of colors.entries()) await plain(`Quillwort ${at}`, color);
  await plain("Quillwort again", "#f2f2f2");
  const fields = await hues("quillwort");
  const at = (hex: string) => fields.find((field) => field.hex === hex)!;
  expect(fields.map(({ hex }) => hex).sort()).toEqual([...colors].sort());
  expect(at("#f2f2f2")).toEqual({ hue: 0, row: 0, materials: 2, hex: "#f2f2f2" });
  expect(at("#1a1a1a")).toMatchObject({ hue: 0, row: 7 });
  expect(at("#c02020").hue).toBeLessThan(at("#c8c020").hue);
  expect(at("#c8c020").hue).toBeLessThan(at("#2040c0").hue);
  expect(at("#c8c020").row).toBeLessThan(at("#2040c0").row);
  expect(at("#101840").row).toBeGreaterThanOrEqual(6);
  expect(await hues("quillwort again")).toEqual([{ hue: 0, row: 0, materials: 1, hex: "#f2f2f2" }]);
});
