import { z } from "zod";
import { LAYOUTS } from "#core/finish/material";
import { MERGE_FIELDS } from "#core/library/merge";
import { type Db, oneRow, rows } from "#server/db/database";
import { partsSchema } from "#server/likeness/queries";
import { projectMaterialIds } from "#server/material/members";

/** Where a material comes from and what people say of it, as it lies in the database. */
export const mergedFactsSchema = z.object({
  name: z.string(),
  layout: z.enum(LAYOUTS),
  supplier: z.string().nullable(),
  product: z.string().nullable(),
  productCode: z.string().nullable(),
  page: z.string().nullable(),
  licence: z.string().nullable(),
  family: z.string().nullable(),
  familyFrom: z.string().nullable(),
  tags: z.array(z.string()),
});
export type MergedFacts = z.infer<typeof mergedFactsSchema>;

export const findFacts = (db: Db, material: string) =>
  oneRow(
    db,
    mergedFactsSchema,
    `SELECT m.name, m.layout, s.supplier, s.product, s.product_code AS "productCode", s.page, s.licence, m.family, m.family_from AS "familyFrom", m.tags
       FROM materials m JOIN sources s ON s.id = m.source WHERE m.id = $1`,
    [material],
  );

/** Writes all of them; two materials that one source belongs to have a source each from then on. */
export async function writeFacts(db: Db, material: string, facts: MergedFacts): Promise<void> {
  const own = await oneRow(
    db,
    z.object({ source: z.string(), isShared: z.boolean() }),
    `SELECT source, EXISTS (SELECT FROM materials o WHERE o.source = m.source AND o.id <> m.id) AS "isShared" FROM materials m WHERE id = $1`,
    [material],
  );
  let source = own!.source;
  if (own!.isShared) {
    const copy = await oneRow(
      db,
      z.object({ id: z.string() }),
      `INSERT INTO sources (supplier, product, product_code, page, licence, intake, sheet)
       SELECT supplier, product, product_code, page, licence, intake, sheet FROM sources WHERE id = $1 RETURNING id`,
      [source],
    );
    source = copy!.id;
  }
  // Its own source first: what changes there is noted of it.
  await db.query(
    "UPDATE materials SET source = $2, name = $3, layout = $4, family = $5, family_from = $6, tags = $7 WHERE id = $1",
    [material, source, facts.name, facts.layout, facts.family, facts.familyFrom, facts.tags],
  );
  await db.query(
    "UPDATE sources SET supplier = $2, product = $3, product_code = $4, page = $5, licence = $6 WHERE id = $1",
    [source, facts.supplier, facts.product, facts.productCode, facts.page, facts.licence],
  );
}

/** How many projects and collections have a material, and since when it is in the library. */
export const findUses = (db: Db, material: string) =>
  oneRow(
    db,
    z.object({
      uses: z.number(),
      since: z.date(),
      projects: z.array(z.string()),
      collections: z.array(z.string()),
    }),
    `SELECT m.created_at AS since,
       (SELECT count(*)::int FROM project_revisions WHERE material = m.id) + (SELECT count(*)::int FROM collection_materials WHERE material = m.id) AS uses,
       ARRAY(SELECT p.name FROM project_revisions r JOIN projects p ON p.id = r.project WHERE r.material = m.id ORDER BY lower(p.name)) AS projects,
       ARRAY(SELECT c.name FROM collection_materials cm JOIN collections c ON c.id = cm.collection WHERE cm.material = m.id ORDER BY lower(c.name)) AS collections
     FROM materials m WHERE m.id = $1`,
    [material],
  );

/** How the pictures of two materials are of one surface, the second from the first; undefined where they were never found to be. */
export const findRelation = (db: Db, first: string, second: string) =>
  oneRow(
    db,
    z.object({ turns: z.number(), parts: partsSchema.nullable(), isSwapped: z.boolean() }),
    `SELECT l.turns, l.parts, l.first <> a.sha256 AS "isSwapped" FROM materials m JOIN maps a ON a.material = m.id AND a.revision = m.revision AND a.role = 'base_color',
       materials n JOIN maps b ON b.material = n.id AND b.revision = n.revision AND b.role = 'base_color', likenesses l
      WHERE m.id = $1 AND n.id = $2
        AND ((l.first = a.sha256 AND l.second = b.sha256) OR (l.first = b.sha256 AND l.second = a.sha256))
      LIMIT 1`,
    [first, second],
  );

/** Where a material lies: its collections, and the projects that have it only by one of them. */
export const findPlaces = (db: Db, material: string) =>
  oneRow(
    db,
    z.object({ collections: z.array(z.string()), byCollection: z.array(z.string()) }),
    `SELECT ARRAY(SELECT collection::text FROM collection_materials WHERE material = $1) AS collections,
       ARRAY(SELECT r.project::text FROM project_revisions r WHERE r.material = $1
              AND NOT EXISTS (SELECT FROM project_materials p WHERE p.project = r.project AND p.material = $1)
              AND $1 IN (${projectMaterialIds("r.project")})) AS "byCollection"`,
    [material],
  );

export const markMerged = (db: Db, material: string, into: string | null) =>
  db.query("UPDATE materials SET merged_into = $2 WHERE id = $1", [material, into]);

/** Into what a material was merged. */
export const findMergedInto = (db: Db, material: string) =>
  oneRow(
    db,
    z.object({ into: z.string(), name: z.string() }),
    "SELECT k.id AS into, k.name FROM materials m JOIN materials k ON k.id = m.merged_into WHERE m.id = $1",
    [material],
  );

export async function insertMerge(
  db: Db,
  merge: { kept: string; lost: string; taken: string[]; before: object; after: object; person: string },
): Promise<string> {
  const { kept, lost, taken, before, after, person } = merge;
  const row = await oneRow(
    db,
    z.object({ id: z.string() }),
    "INSERT INTO merges (kept, lost, taken, before, after, made_by) VALUES ($1, $2, $3, $4, $5, $6) RETURNING id",
    [kept, lost, taken, JSON.stringify(before), JSON.stringify(after), person],
  );
  return row!.id;
}

/** What has to be there again where a merge is undone. */
const mergeBeforeSchema = z.object({
  revision: z.number(),
  facts: mergedFactsSchema,
  /** Of the one that was lost. */
  collections: z.array(z.string()),
  /** Those that the other one came into. */
  cameInto: z.array(z.string()),
  /** Projects that hold the lost one singly since. */
  singly: z.array(z.string()),
});
const mergeAfterSchema = z.object({ revision: z.number(), facts: mergedFactsSchema });

export const lockMerge = (db: Db, id: string) =>
  oneRow(
    db,
    z.object({ kept: z.string(), lost: z.string(), before: mergeBeforeSchema, after: mergeAfterSchema }),
    "SELECT kept, lost, before, after FROM merges WHERE id = $1 AND undone_at IS NULL FOR UPDATE",
    [id],
  );

export const markMergeUndone = (db: Db, id: string) =>
  db.query("UPDATE merges SET undone_at = now() WHERE id = $1", [id]);

export const mergeRowSchema = z.object({
  id: z.string(),
  kept: z.object({ id: z.string(), name: z.string(), preview: z.string().nullable() }),
  lost: z.object({ id: z.string(), name: z.string(), code: z.string(), preview: z.string().nullable() }),
  taken: z.array(z.enum(MERGE_FIELDS)),
  by: z.string(),
  at: z.date(),
});

const preview = (material: string) =>
  `(SELECT sha256 FROM maps a WHERE a.material = ${material}.id AND a.revision = ${material}.revision AND a.role = 'base_color')`;

/** What was merged, the newest first; of one material alone where it is given. */
export const listMerges = (db: Db, { kept = null, limit }: { kept?: string | null; limit: number }) =>
  rows(
    db,
    mergeRowSchema,
    `SELECT g.id, g.taken, p.name AS by, g.made_at AS at,
       jsonb_build_object('id', k.id, 'name', k.name, 'preview', ${preview("k")}) AS kept,
       jsonb_build_object('id', l.id, 'name', l.name, 'code', l.code, 'preview', ${preview("l")}) AS lost
     FROM merges g JOIN materials k ON k.id = g.kept JOIN materials l ON l.id = g.lost JOIN people p ON p.id = g.made_by
    WHERE g.undone_at IS NULL AND ($1::uuid IS NULL OR g.kept = $1) ORDER BY g.made_at DESC, g.id LIMIT $2`,
    [kept, limit],
  );

/** Materials that have the very same base color file and finish: one download under several names. One file in two finishes is two. */
export const listSameFiles = (db: Db, limit: number) =>
  rows(
    db,
    z.object({
      sha256: z.string(),
      materials: z.array(z.object({ id: z.string(), name: z.string(), code: z.string() })),
    }),
    `SELECT a.sha256, jsonb_agg(jsonb_build_object('id', m.id, 'name', m.name, 'code', m.code) ORDER BY m.created_at, m.id) AS materials
       FROM maps a JOIN materials m ON m.id = a.material AND m.revision = a.revision
         JOIN revisions r ON r.material = m.id AND r.number = m.revision
      WHERE a.role = 'base_color' AND m.deleted_at IS NULL AND m.merged_into IS NULL AND m.kind = 'material' AND m.made_from IS NULL
      GROUP BY a.sha256, r.finish HAVING count(*) > 1 ORDER BY count(*) DESC, a.sha256 LIMIT $1`,
    [limit],
  );
