import type { Pool, PoolClient } from "pg";
import { fillLibrary } from "./fillLibrary";

export interface StudioSize {
  materials: number;
  collections: number;
  perCollection: number;
  projects: number;
  people: number;
  /** Intakes that are over, and the files of each. */
  intakes: number;
  filesOfIntake: number;
  /** Candidates of the newest intake, which waits for review. */
  candidates: number;
}

/** Where to look in a studio that was filled. */
export interface Filled {
  collection: string;
  project: string;
  material: string;
  intake: string;
}

/**
 * Fills a studio that has one material to a size: every material has five maps and a picture of its own; collections and projects
 * overlap, as they do. Wants the rows of one material that was taken in.
 */
export async function fillStudio(db: Pool, size: StudioSize): Promise<Filled> {
  await fillLibrary(db, size.materials);
  const client = await db.connect();
  try {
    await client.query("BEGIN");
    await giveOwnPictures(client);
    await client.query(
      `INSERT INTO people (name, email, password_hash, level)
       SELECT 'Person ' || n, 'person' || n || '@example.org', '-', 'make'
         FROM generate_series((SELECT count(*)::int FROM people) + 1, $1::int) AS n`,
      [size.people],
    );
    await client.query(
      `INSERT INTO collections (name) SELECT 'Collection ' || n
         FROM generate_series((SELECT count(*)::int FROM collections) + 1, $1::int) AS n`,
      [size.collections],
    );
    await client.query(
      `WITH numbered AS (SELECT id, row_number() OVER (ORDER BY code) - 1 AS n FROM materials),
            placed AS (SELECT id, row_number() OVER (ORDER BY name) - 1 AS n FROM collections)
       INSERT INTO collection_materials (collection, material)
       SELECT c.id, m.id FROM placed c CROSS JOIN generate_series(0, $1::int - 1) AS i
         JOIN numbered m ON m.n = (c.n * 251 + i * 7) % $2::int ON CONFLICT DO NOTHING`,
      [size.perCollection, size.materials],
    );
    await client.query(
      `INSERT INTO projects (name, number) SELECT 'Project ' || n, 'P' || n
         FROM generate_series((SELECT count(*)::int FROM projects) + 1, $1::int) AS n`,
      [size.projects],
    );
    await client.query(
      `WITH c AS (SELECT id, row_number() OVER (ORDER BY name) - 1 AS n FROM collections),
            p AS (SELECT id, row_number() OVER (ORDER BY name) - 1 AS n FROM projects)
       INSERT INTO project_collections (project, collection)
       SELECT p.id, c.id FROM p JOIN c ON c.n % 30 = p.n OR c.n = p.n ON CONFLICT DO NOTHING`,
    );
    await client.query(
      `INSERT INTO project_revisions (project, material, revision)
       SELECT DISTINCT pc.project, cm.material, 1 FROM project_collections pc JOIN collection_materials cm USING (collection)
         ON CONFLICT DO NOTHING`,
    );
    // Files are counted one by one as they come, and each count in one transaction would leave a row behind that the next has to pass.
    await client.query("ALTER TABLE intake_uploads DISABLE TRIGGER intake_uploads_counted");
    await client.query(
      `WITH made AS (
         INSERT INTO intakes (person, state, expected, files, file_bytes)
         SELECT p.id, 'accepted', $2::int, $2::int, $2::int * 1000 FROM generate_series(1, $1::int), (SELECT id FROM people LIMIT 1) AS p
           RETURNING id)
       INSERT INTO intake_uploads (intake, position, name, sha256)
       SELECT made.id, n, 'set ' || n || '/brick_' || n || '_basecolor.png', (SELECT sha256 FROM images LIMIT 1)
         FROM made CROSS JOIN generate_series(0, $2::int - 1) AS n`,
      [size.intakes, size.filesOfIntake],
    );
    await client.query("ALTER TABLE intake_uploads ENABLE TRIGGER intake_uploads_counted");
    const intake = await addReview(client, size.candidates);
    await client.query("COMMIT");
    // So that nothing of it is left to be done beside what is measured.
    await db.query("VACUUM ANALYZE");
    const one = async (sql: string) => (await db.query<{ id: string }>(sql)).rows[0].id;
    return {
      intake,
      collection: await one("SELECT id FROM collections ORDER BY name LIMIT 1"),
      project: await one("SELECT id FROM projects ORDER BY name LIMIT 1"),
      material: await one("SELECT material AS id FROM collection_materials LIMIT 1"),
    };
  } finally {
    client.release();
  }
}

/** Pictures of their own for the base colors, and four more maps. */
async function giveOwnPictures(client: PoolClient): Promise<void> {
  await client.query(
    `CREATE TEMPORARY TABLE bare ON COMMIT DROP AS
     SELECT material, encode(sha256(material::text::bytea), 'hex') AS own, sha256 AS given FROM maps
      WHERE role = 'base_color' AND sha256 <> encode(sha256(material::text::bytea), 'hex')`,
  );
  await copyImages(client, "SELECT own FROM bare");
  await client.query(
    "UPDATE maps SET sha256 = own FROM bare WHERE maps.material = bare.material AND role = 'base_color'",
  );
  await client.query(
    `INSERT INTO maps (material, revision, role, sha256, channel, file_name)
     SELECT material, 1, role, given, 'color', role || '.png' FROM bare
       CROSS JOIN unnest(ARRAY['specular_roughness', 'geometry_normal', 'height', 'ambient_occlusion']) AS role
         ON CONFLICT DO NOTHING`,
  );
}

/** Rows of images that are there by name alone. @param hashes SQL for one column of their hashes */
async function copyImages(client: PoolClient, hashes: string): Promise<void> {
  for (const table of ["files", "images"]) {
    const { rows } = await client.query<{ name: string }>(
      `SELECT quote_ident(attname) AS name FROM pg_attribute
        WHERE attrelid = $1::regclass AND attnum > 0 AND NOT attisdropped AND attname <> 'sha256' AND attgenerated = ''`,
      [table],
    );
    const columns = rows.map(({ name }) => name).join(", ");
    await client.query(
      `INSERT INTO ${table} (sha256, ${columns})
       SELECT own, ${columns} FROM (${hashes}) AS h (own) CROSS JOIN (SELECT ${columns} FROM ${table} LIMIT 1) AS given
         ON CONFLICT DO NOTHING`,
    );
  }
}

/** An intake in review; one in ten of its candidates has the name of a material. */
async function addReview(client: PoolClient, candidates: number): Promise<string> {
  const { rows } = await client.query<{ id: string }>(
    `INSERT INTO intakes (person, state, expected)
     SELECT id, 'review', $1 FROM people LIMIT 1 RETURNING id`,
    [candidates],
  );
  const [{ id }] = rows;
  await copyImages(
    client,
    `SELECT encode(sha256(('${id}' || n)::bytea), 'hex') FROM generate_series(1, ${candidates}) AS n`,
  );
  await client.query(
    `WITH made AS (
       INSERT INTO candidates (intake, position, name, kind)
       SELECT $1::uuid, n, CASE WHEN n % 10 = 0 THEN (SELECT name FROM materials ORDER BY id OFFSET n LIMIT 1) ELSE 'Candidate ' || n || ' ' || $1::uuid END, 'material'
         FROM generate_series(1, $2::int) AS n RETURNING id, position)
     INSERT INTO candidate_maps (candidate, position, file, sha256, channel, role, confidence)
     SELECT id, 0, 'set_' || position || '_basecolor.png', encode(sha256(($1::uuid::text || position)::bytea), 'hex'), 'color', 'base_color', 1 FROM made`,
    [id, candidates],
  );
  return id;
}
