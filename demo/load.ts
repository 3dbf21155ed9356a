import { availableParallelism } from "node:os";
import { Readable } from "node:stream";
import { Piscina } from "piscina";
import { finishSchema } from "#core/finish/finish";
import { gaugeRepeat } from "#core/gauge/repeat";
import type { Role } from "#core/roles/roles";
import { hashPassword } from "#server/auth/passwords";
import { hashSecret } from "#server/auth/tokens";
import { CONDITIONS } from "#core/picture/condition";
import { insertCondition } from "#server/condition/sql";
import { insertGrade } from "#server/grade/sql";
import { insertCollection } from "#server/collection/writes";
import { closeDatabase, database, inTransaction, type Db } from "#server/db/database";
import { insertFile } from "#server/store/sql";
import { mustFindMaterial } from "#server/material/queries";
import { insertMaterial, saveRevision, updateFamilyAndTags, type NewMap } from "#server/material/writes";
import { insertSearch } from "#server/search/writes";
import { insertToken } from "#server/auth/writes";
import { insertPerson } from "#server/people/writes";
import { prepareDatabase } from "#server/main/prepare";
import { profileSchema } from "#core/convert/profile";
import { packedWalkthrough } from "#core/convert/profiles/packedWalkthrough";
import { QUESTIONS } from "#core/convert/questions";
import { insertDestination, updateDestinationPaths } from "#server/destination/writes";
import { insertProfile } from "#server/profile/sql";
import { changeCollectionMaterials } from "#server/collection/members";
import { changeProjectMembers, insertProject } from "#server/project/writes";
import { fileStore } from "#server/store/store";
import { encode } from "#server/pixels/encode";
import { closePool } from "#server/pool/pool";
import { studyFile } from "#server/images/studyFile";
import { settings } from "#server/settings";
import type { Raster } from "#core/raster/raster";
import { drawPanorama } from "./panorama";
import type { Rendered } from "./patterns";
import { drawPhotograph } from "./photograph";
import {
  COLLECTIONS,
  DESTINATIONS,
  LICENCES,
  MATERIALS,
  OWN_PROFILE,
  PEOPLE,
  PROJECTS,
  SAID,
  SEARCHES,
  SUPPLIERS,
  WORN,
  type DemoMaterial,
} from "./studio";

const PIXELS = Number(process.env.KALONOMY_DEMO_PIXELS ?? 1024);

/** The word for each role in a file's name. */
const WORDS: Partial<Record<Role, string>> = {
  base_color: "basecolor",
  geometry_normal: "normal-plusY",
  height: "height",
  specular_roughness: "roughness",
  ambient_occlusion: "ao",
  geometry_opacity: "opacity",
  subsurface_color: "translucency",
  wear_mask: "marks",
};

/** What the photograph is of, and its name in the library. */
const PHOTOGRAPHED = { pattern: "harbourRed", repeat: { width: 900, height: 900 } };
const PHOTOGRAPH = "Customs house gable, photograph";
const ENVIRONMENT = "Boathouse at dusk, panorama";

interface Drawn {
  heightAmplitudeMm?: number;
  width: number;
  height: number;
  maps: NewMap[];
}

/** Keeps a file and reads it, as if it had come in. @returns its hash */
async function keepImage(content: Uint8Array, mediaType: string): Promise<string> {
  const { sha256, bytes } = await fileStore().keep(Readable.from([content]));
  await insertFile(database(), { sha256, bytes, mediaType });
  await studyFile(sha256, { seconds: 300, mebibytes: 4096 });
  return sha256;
}

/** Draws the maps of one demo material and keeps them as files, as if they had come in. */
async function draw(pool: Piscina, material: DemoMaterial): Promise<Drawn | undefined> {
  if (!material.pattern) return undefined;
  const set = (await pool.run({ name: material.pattern, pixels: PIXELS })) as Rendered;
  const rasters = Object.entries(set.maps) as [Role, Raster][];
  const maps: NewMap[] = [];
  for (const [role, raster] of rasters) {
    const sha256 = await keepImage(await encode(raster, "png"), "image/png");
    const fileName = `${material.pattern}_${WORDS[role]}.png`;
    maps.push({
      role,
      sha256,
      channel: "color",
      fileName,
      normalDirection: role === "geometry_normal" ? "+Y" : null,
    });
  }
  const [[, { width, height }]] = rasters;
  return { heightAmplitudeMm: set.heightAmplitudeMm, width, height, maps };
}

/** Draws a photograph-like picture and keeps it as a file. */
async function drawPicture(pool: Piscina): Promise<NewMap> {
  const set = (await pool.run({ name: PHOTOGRAPHED.pattern, pixels: PIXELS })) as Rendered;
  const photograph = drawPhotograph(set.maps.base_color!, PHOTOGRAPHED.repeat);
  const sha256 = await keepImage(await encode(photograph, "jpeg"), "image/jpeg");
  return {
    role: "base_color",
    sha256,
    channel: "color",
    fileName: "customs-house.jpg",
    normalDirection: null,
  };
}

/** Draws an environment and keeps it as a file. */
async function keepPanorama(): Promise<NewMap> {
  const sha256 = await keepImage(drawPanorama(), "image/vnd.radiance");
  return {
    role: "environment",
    sha256,
    channel: "color",
    fileName: "boathouse.hdr",
    normalDirection: null,
  };
}

const idOf = async (db: Db, sql: string, values: unknown[]) =>
  (await db.query<{ id: string }>(sql, values)).rows[0].id;

/** Everything in one transaction: a demo that was broken off is loaded anew. */
async function load(db: Db, drawn: Map<string, Drawn>, photograph: NewMap, panorama: NewMap): Promise<void> {
  const passwordHash = await hashPassword(process.env.KALONOMY_DEMO_PASSWORD!);
  const people = [];
  for (const person of PEOPLE) people.push(await insertPerson(db, { ...person, passwordHash }));
  const [keeper] = people;
  await insertToken(db, {
    person: keeper.id,
    name: "Demo scripts",
    hash: hashSecret(process.env.KALONOMY_DEMO_TOKEN!),
  });

  const suppliers = new Map<string, string>();
  for (const [key, name] of Object.entries(SUPPLIERS))
    suppliers.set(key, await idOf(db, "INSERT INTO suppliers (name) VALUES ($1) RETURNING id", [name]));
  const licences = new Map<string, string>();
  for (const [key, { name, price, credit }] of Object.entries(LICENCES))
    licences.set(
      key,
      await idOf(db, "INSERT INTO licences (name, price, credit) VALUES ($1, $2, $3) RETURNING id", [
        name,
        price,
        credit,
      ]),
    );

  const lines = new Map<string, string>();
  const materials = new Map<string, string>();
  for (const material of MATERIALS) {
    const supplier = suppliers.get(material.supplier)!;
    if (material.line && !lines.has(material.line))
      lines.set(
        material.line,
        await idOf(db, "INSERT INTO lines (supplier, name) VALUES ($1, $2) RETURNING id", [
          supplier,
          material.line,
        ]),
      );
    const made = drawn.get(material.name);
    const size = made && material.gauge ? gaugeRepeat(made, material.gauge).repeat : null;
    const id = await insertMaterial(
      db,
      {
        name: material.name,
        kind: material.kind ?? "material",
        layout: made ? (material.layout ?? "repeating") : "plain",
        line: material.line ? lines.get(material.line) : null,
        variant: material.variant,
        source: {
          supplier,
          product: material.name,
          productCode: material.productCode || null,
          licence: licences.get(material.licence),
        },
        person: keeper.id,
      },
      {
        repeat: size,
        sizeState: size ? (material.sizeState ?? "known") : "unknown",
        gauge: size ? material.gauge! : null,
        finish: finishSchema.parse({
          ...(made?.heightAmplitudeMm && { heightAmplitudeMm: made.heightAmplitudeMm }),
          ...material.finish,
        }),
        findings: [],
        note: "From the supplier",
        maps: made?.maps ?? [],
      },
    );
    materials.set(material.name, id);
  }

  for (const [name, said] of Object.entries(SAID)) await updateFamilyAndTags(db, materials.get(name)!, said);
  for (const [name, search] of Object.entries(SEARCHES)) await insertSearch(db, { name, search }, keeper.id);

  for (const [name, layers] of Object.entries(WORN)) {
    const id = materials.get(name)!;
    const { repeat, sizeState, gauge, finish, findings, maps } = await mustFindMaterial(db, id);
    const wear = layers.map(({ of, ...layer }) => ({ ...layer, material: materials.get(of)!, revision: 1 }));
    await saveRevision(
      db,
      { id, seen: 1, person: keeper.id },
      { repeat, sizeState, gauge, finish: { ...finish, wear }, findings, note: "Changed wear", maps },
    );
  }

  // What was taken on site: it has no size, and nothing was done with it.
  for (const [name, kind, map] of [
    [PHOTOGRAPH, "material", photograph],
    [ENVIRONMENT, "environment", panorama],
  ] as const)
    await insertMaterial(
      db,
      { name, kind, layout: "placed", source: {}, person: keeper.id },
      {
        repeat: null,
        sizeState: "unknown",
        gauge: null,
        finish: finishSchema.parse({}),
        findings: [],
        note: "Taken on site",
        maps: [map],
      },
    );
  const { name: _, ...studio } = CONDITIONS.studio;
  await insertCondition(
    db,
    "Boathouse, two windows",
    { ...studio, environment: panorama.sha256, lampShare: 0, environmentTurn: -20 },
    keeper.id,
  );
  await insertGrade(
    db,
    {
      name: "hand-rubbed",
      family: "stone",
      says: "Rubbed by hand: soft, and a little uneven.",
      scale: 0.55,
      roughness: 0.3,
    },
    keeper.id,
  );

  const collections = new Map<string, string>();
  const idsOf = (known: Map<string, string>, names: string[]) => ({
    add: names.map((name) => known.get(name)!),
    remove: [],
  });
  for (const { name, parent, materials: names } of COLLECTIONS) {
    const id = await insertCollection(db, {
      name,
      parent: parent ? collections.get(parent)! : null,
      person: keeper.id,
    });
    collections.set(name, id);
    await changeCollectionMaterials(db, id, idsOf(materials, names));
  }
  for (const project of PROJECTS) {
    const id = await insertProject(db, { name: project.name, number: project.number, person: keeper.id });
    await changeProjectMembers(db, "collections", id, idsOf(collections, project.collections));
    await changeProjectMembers(db, "materials", id, idsOf(materials, project.materials));
  }
  for (const { paths, ...destination } of DESTINATIONS)
    await updateDestinationPaths(db, (await insertDestination(db, destination)).id, paths);
  const { answers, ...named } = OWN_PROFILE;
  const answered = Object.entries(answers).reduce(
    (profile, [id, value]) => QUESTIONS.find((one) => one.id === id)!.answer(profile, value),
    { ...packedWalkthrough, ...named },
  );
  await insertProfile(db, profileSchema.parse(answered), keeper.id);
}

await prepareDatabase(settings().databaseUrl);
const { rowCount } = await database().query("SELECT 1 FROM people LIMIT 1");
if (rowCount === 0) {
  console.log("▪ Drawing the demo studio's materials");
  const pool = new Piscina({
    filename: new URL("./patternThread.mjs", import.meta.url).href,
    maxThreads: availableParallelism(),
  });
  const drawn = new Map<string, Drawn>();
  await Promise.all(
    MATERIALS.map(async (material) => {
      const made = await draw(pool, material);
      if (made) drawn.set(material.name, made);
    }),
  );
  const photograph = await drawPicture(pool);
  const panorama = await keepPanorama();
  await pool.destroy();
  await closePool();
  await inTransaction((db) => load(db, drawn, photograph, panorama));
}
await closeDatabase();
