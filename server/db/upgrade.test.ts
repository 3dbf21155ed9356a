import { createHash } from "node:crypto";
import { fileURLToPath } from "node:url";
import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import { runMigrations as migrateQueue } from "graphile-worker";
import { runner } from "node-pg-migrate";
import pg from "pg";
import { DEFAULT_FINISH } from "#core/finish/finish";
import { openTestStudio, type TestStudio } from "#server/testing/testStudio";

/** A studio of the first version, filled as its demo was, becomes one of today with all that it had. */
const MATERIALS = 24;
const hash = (text: string) => createHash("sha256").update(text).digest("hex");
const id = (kind: number, n: number) =>
  `${String(kind).padStart(8, "0")}-0000-4000-8000-${String(n).padStart(12, "0")}`;
const PERSON = id(1, 1);

async function fillFirstVersion(databaseUrl: string): Promise<void> {
  await runner({
    databaseUrl,
    dir: fileURLToPath(new URL("../../db/migrations", import.meta.url)),
    direction: "up",
    count: 1,
    migrationsTable: "migrations",
    log: () => undefined,
  });
  await migrateQueue({ connectionString: databaseUrl });
  const client = new pg.Client({ connectionString: databaseUrl });
  await client.connect();
  const put = (table: string, row: Record<string, unknown>) => {
    const columns = Object.keys(row);
    return client.query(
      `INSERT INTO ${table} (${columns.join(", ")}) VALUES (${columns.map((_, i) => `$${i + 1}`).join(", ")})`,
      Object.values(row).map((value) =>
        value !== null && typeof value === "object" && !Array.isArray(value) ? JSON.stringify(value) : value,
      ),
    );
  };
  await client.query("BEGIN");
  await put("people", {
    id: PERSON,
    name: "Ines",
    email: "Ines@studio.example",
    password_hash: "-",
    level: "keep",
    unit: "cm",
  });
  await put("tokens", { person: PERSON, name: "night", token_hash: hash("token") });
  await put("suppliers", { id: id(2, 1), name: "Kilnfield", page: "https://kilnfield.example" });
  await put("lines", { id: id(3, 1), supplier: id(2, 1), name: "Harbour" });
  await put("projects", { id: id(4, 1), name: "Ferry landing", number: "24-07", created_by: PERSON });
  await put("licences", {
    id: id(5, 1),
    name: "For the landing",
    price: "bought",
    project: id(4, 1),
    ends_on: "2027-01-31",
    credit: "Kilnfield",
  });
  await put("intakes", { id: id(6, 1), person: PERSON, state: "accepted" });
  await put("intakes", { id: id(6, 2), person: PERSON, state: "failed", failure: "The zip is damaged." });
  await put("collections", { id: id(7, 1), name: "Brickwork", created_by: PERSON });
  await put("collections", { id: id(7, 2), name: "Red", parent: id(7, 1), created_by: PERSON });
  for (let n = 1; n <= MATERIALS; n++) {
    const [color, normal] = [hash(`color ${n}`), hash(`normal ${n}`)];
    for (const [sha256, bytes] of [
      [color, 1000 + n],
      [normal, 2000 + n],
    ] as const) {
      await put("files", { sha256, bytes, media_type: "image/png" });
      await put("images", {
        sha256,
        format: "png",
        width: 512,
        height: 256,
        channels: 3,
        bit_depth: 8,
        alpha: "none",
        foreign_profile: false,
      });
    }
    await put("sources", {
      id: id(8, n),
      supplier: id(2, 1),
      product: `Harbour ${n}`,
      product_code: `H-${n}`,
      licence: id(5, 1),
      intake: id(6, 1),
    });
    const known = n % 4 !== 0;
    await put("materials", {
      ...{
        id: id(9, n),
        code: `M${String(n).padStart(4, "0")}`,
        file_name: `harbour-${n}`,
        name: `Harbour brick ${n}`,
      },
      ...{
        kind: "material",
        layout: "repeating",
        line: id(3, 1),
        variant: { colour: `tone ${n}` },
        source: id(8, n),
        revision: 2,
        created_by: PERSON,
      },
    });
    for (const number of [1, 2]) {
      await put("revisions", {
        ...{
          material: id(9, n),
          number,
          size_state: known ? "known" : "unknown",
          repeat_width_mm: known ? 900 : null,
          repeat_height_mm: known ? 450 : null,
        },
        ...{
          gauge: known ? { method: "size", width: 900 } : null,
          finish: { ...DEFAULT_FINISH, roughness: number / 10 },
          note: `Revision ${number}`,
          findings: JSON.stringify([
            { level: "look", code: "too-light", message: "It glows.", file: "a.png" },
          ]),
          made_by: PERSON,
        },
      });
      await put("maps", {
        material: id(9, n),
        revision: number,
        role: "base_color",
        sha256: color,
        channel: "color",
        file_name: `harbour${n}_basecolor.png`,
      });
      await put("maps", {
        material: id(9, n),
        revision: number,
        role: "geometry_normal",
        sha256: normal,
        channel: "color",
        file_name: `harbour${n}_normal.png`,
        normal_direction: "+Y",
      });
    }
    await put("candidates", {
      id: id(10, n),
      intake: id(6, 1),
      position: n,
      name: `Harbour ${n}`,
      kind: "material",
      state: "accepted",
      material: id(9, n),
      findings: JSON.stringify([
        { level: "look", code: "too-dark", message: `harbour${n}_basecolor.png is dark.` },
        { level: "note", code: "incomplete", message: "The set has no relief." },
      ]),
    });
    await put("candidate_maps", {
      candidate: id(10, n),
      position: 0,
      file: `harbour${n}_basecolor.png`,
      sha256: color,
      channel: "color",
      role: "base_color",
      confidence: 1,
    });
    if (n <= 10) await put("collection_materials", { collection: id(7, 2), material: id(9, n) });
  }
  await client.query("SELECT setval('material_numbers', $1)", [MATERIALS]);
  await put("intake_uploads", {
    intake: id(6, 1),
    position: 0,
    name: "harbour.zip",
    sha256: hash("color 1"),
  });
  await put("intake_ignored", {
    intake: id(6, 1),
    position: 0,
    file: "harbour.zip/readme.txt",
    reason: "A text.",
  });
  await put("project_collections", { project: id(4, 1), collection: id(7, 1) });
  await put("project_materials", { project: id(4, 1), material: id(9, 20) });
  await put("project_revisions", { project: id(4, 1), material: id(9, 20), revision: 1 });
  await put("profiles", { id: "gltf-2", name: "glTF", data: {} });
  await put("destinations", { id: id(11, 1), name: "Share", folder: "share" });
  const delivery = { person: PERSON, profiles: ["gltf-2"], destination: id(11, 1) };
  await put("deliveries", {
    ...delivery,
    id: id(12, 1),
    state: "done",
    plan: "[]",
    account: { delivery: id(12, 1), made: "2026-01-01T00:00:00Z", materials: [], written: 3, unchanged: 0 },
  });
  // Planned by the first version, in a shape that nobody makes any more, and still in the queue.
  await put("deliveries", {
    ...delivery,
    id: id(12, 2),
    state: "planned",
    plan: JSON.stringify([{ material: id(9, 1), images: [{ from: "base_color" }] }]),
  });
  for (const n of [1, 2])
    await put("delivery_materials", { delivery: id(12, n), material: id(9, 1), revision: 2 });
  await put("derived_files", { recipe: hash("recipe"), sha256: hash("color 1") });
  await put("destination_files", {
    destination: id(11, 1),
    path: "gltf-2/harbour-1/a.png",
    sha256: hash("color 1"),
    delivery: id(12, 1),
  });
  await client.query("SELECT graphile_worker.add_job('run-delivery', $1)", [
    JSON.stringify({ delivery: id(12, 2) }),
  ]);
  await client.query("COMMIT");
  await client.end();
}

let studio: TestStudio;
beforeAll(async () => (studio = await openTestStudio(fillFirstVersion)));
afterAll(() => studio.close());

describe("a studio of the first version", () => {
  test("has all its materials with their maps, sizes, finishes, sources and revisions", async () => {
    const { items, total } = (await studio.api("GET", "/materials")).json;
    expect(total ?? items.length).toBe(MATERIALS);
    for (let n = 1; n <= MATERIALS; n++) {
      const { json } = await studio.api("GET", `/materials/${id(9, n)}`);
      expect(json).toMatchObject({
        code: `M${String(n).padStart(4, "0")}`,
        name: `Harbour brick ${n}`,
        revision: 2,
        sizeState: n % 4 === 0 ? "unknown" : "known",
        repeat: n % 4 === 0 ? null : { width: 900, height: 450 },
        finish: { roughness: 0.2 },
        findings: [{ level: "look", code: "too-light", message: "It glows.", file: "a.png" }],
        licence: { name: "For the landing", credit: "Kilnfield" },
      });
      expect(json.source).toMatchObject({
        supplier: "Kilnfield",
        product: `Harbour ${n}`,
        productCode: `H-${n}`,
      });
      expect(json.maps.map((map: { role: string; sha256: string }) => [map.role, map.sha256])).toEqual([
        ["base_color", hash(`color ${n}`)],
        ["geometry_normal", hash(`normal ${n}`)],
      ]);
    }
    const { candidates } = (await studio.api("GET", `/intakes/${id(6, 1)}`)).json;
    expect(candidates[0].findings).toEqual([
      {
        level: "look",
        code: "too-dark",
        message: "harbour1_basecolor.png is dark.",
        file: "harbour1_basecolor.png",
      },
      { level: "note", code: "incomplete", message: "The set has no relief." },
    ]);
    const revisions = (await studio.api("GET", `/materials/${id(9, 3)}/revisions`)).json.items;
    expect(revisions.map(({ note }: { note: string }) => note)).toEqual(["Revision 2", "Revision 1"]);
  });

  test("has its collections, projects with the revisions they took, intakes and deliveries", async () => {
    expect((await studio.api("GET", `/collections/${id(7, 2)}`)).json.materials).toHaveLength(10);
    const project = (await studio.api("GET", `/projects/${id(4, 1)}`)).json;
    expect(project).toMatchObject({ name: "Ferry landing", number: "24-07" });
    expect(project.revisions.find((one: { material: string }) => one.material === id(9, 20))).toMatchObject({
      taken: 1,
      newest: 2,
    });
    expect((await studio.api("GET", `/intakes/${id(6, 2)}`)).json).toMatchObject({
      state: "failed",
      failure: "The zip is damaged.",
    });
    const intake = (await studio.api("GET", `/intakes/${id(6, 1)}`)).json;
    expect(intake.ignored).toMatchObject([{ file: "harbour.zip/readme.txt" }]);
    expect((await studio.api("GET", `/deliveries/${id(12, 1)}`)).json).toMatchObject({
      state: "done",
      account: { written: 3 },
    });
  });

  test("goes on: its materials are searched, changed and sized, and new ones get the next number", async () => {
    expect((await studio.api("GET", "/materials?q=brick%2012")).json.items).toHaveLength(1);
    const { json } = await studio.api("PUT", `/materials/${id(9, 4)}/repeat`, { method: "size", width: 600 });
    expect(json).toMatchObject({ repeat: { width: 600, height: 300 }, revision: 3 });
    const plain = (
      await studio.api("POST", "/materials", { name: "Mist", layout: "plain", color: "#dddddd" })
    ).json;
    expect(plain.code).toBe("M0025");
  });

  test("a plan of its own that still waits is refused in words, once and for all", async () => {
    const { tasks } = await import("#server/main/tasks");
    await tasks["run-delivery"]({ delivery: id(12, 2) }, { job: { attempts: 1, max_attempts: 4 } } as never);
    expect((await studio.api("GET", `/deliveries/${id(12, 2)}`)).json).toMatchObject({
      state: "failed",
      failure: expect.stringContaining("planned by another version of the program"),
    });
  });

  test("a job whose payload nobody makes any more is left out, and holds up nothing", async () => {
    const { tasks } = await import("#server/main/tasks");
    await expect(
      tasks["run-delivery"]({ order: 12 }, { job: { attempts: 1, max_attempts: 4 } } as never),
    ).resolves.toBeUndefined();
  });
});
