import { createHash } from "node:crypto";
import { seededRandom } from "#core/pattern/random";
import { openTestStudio } from "#server/testing/testStudio";

/** Looking for a picture among 20,000 fingerprints, and for those nearest by their figures, against reading a row by its primary key. Wants DATABASE_URL. */
const IMAGES = 20_000;
const LOOKS = 400;

const studio = await openTestStudio();
try {
  const { database } = await import("#server/db/database");
  const { findFile } = await import("#server/store/sql");
  const { findLikeImages, findNearImages } = await import("#server/likeness/queries");
  const db = database();
  const random = seededRandom(1);
  const hashes = Array.from({ length: IMAGES }, (_, i) =>
    createHash("sha256").update(String(i)).digest("hex"),
  );
  await db.query(
    "INSERT INTO files (sha256, bytes, media_type) SELECT h, 1, 'image/png' FROM unnest($1::text[]) h",
    [hashes],
  );
  await db.query(
    "INSERT INTO images (sha256, format, width, height, channels, bit_depth, alpha) SELECT h, 'png', 1, 1, 3, 8, 'none' FROM unnest($1::text[]) h",
    [hashes],
  );
  for (let band = 0; band < 12; band++)
    await db.query(
      "INSERT INTO fingerprints (band, value, sha256) SELECT $1, v, h FROM unnest($2::smallint[], $3::text[]) AS t(v, h)",
      // Real fingerprints are not even: a third of the values are far more frequent.
      [band, hashes.map(() => Math.floor(4096 * random() ** 1.5)), hashes],
    );
  // As wide as those of real textures: colours lie 8 of their units apart, scales 5.
  const figures = () =>
    Array.from({ length: 28 }, (_, i) => (random() + random() + random() - 1.5) * (i < 3 ? 16 : 10));
  for (const hash of hashes)
    await db.query("INSERT INTO picture_figures (sha256, figures) VALUES ($1, cube($2::float8[]))", [
      hash,
      figures(),
    ]);
  await asMaterials(db, hashes);
  await db.query("ANALYZE");
  const some = hashes.filter((_, i) => i % Math.floor(IMAGES / LOOKS) === 0);
  const timed = async (look: (hash: string) => Promise<unknown>) => {
    for (const hash of some.slice(0, 50)) await look(hash);
    const start = performance.now();
    for (const hash of some) await look(hash);
    return (performance.now() - start) / some.length;
  };
  const key = await timed((hash) => findFile(db, hash));
  const like = await timed((hash) => findLikeImages(db, hash));
  const near = await timed((hash) => findNearImages(db, hash));
  console.log(
    `figures among ${IMAGES}: nearest 24 ${near.toFixed(3)} ms, ratio to a primary key ${(near / key).toFixed(1)}`,
  );
  console.log(
    `likeness among ${IMAGES}: primary key ${key.toFixed(3)} ms, fingerprint ${like.toFixed(3)} ms, ratio ${(like / key).toFixed(1)} (5 at most)`,
  );
} finally {
  await studio.close();
}

/** Each image as the base color of a live material, so that it counts. */
async function asMaterials(
  db: { query(sql: string, values?: unknown[]): Promise<unknown> },
  all: string[],
): Promise<void> {
  await db.query(
    `WITH person AS (SELECT id FROM people LIMIT 1),
       source AS (INSERT INTO sources (product) VALUES ('bench') RETURNING id),
       made AS (
         INSERT INTO materials (code, file_name, name, kind, layout, source, created_by)
         SELECT 'B' || n, 'b' || n, 'b' || n, 'material', 'repeating', source.id, person.id
           FROM generate_series(1, $1::int) n, source, person RETURNING id),
       revised AS (
         INSERT INTO revisions (material, number, size_state, finish, made_by)
         SELECT made.id, 1, 'unknown', '{}', person.id FROM made, person RETURNING material)
     INSERT INTO maps (material, revision, role, sha256, channel, file_name)
     SELECT material, 1, 'base_color', h.sha256, 'color', 'x'
       FROM (SELECT material, row_number() OVER () AS n FROM revised) r
       JOIN unnest($2::text[]) WITH ORDINALITY AS h(sha256, n) USING (n)`,
    [all.length, all],
  );
}
