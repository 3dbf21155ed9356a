import { z } from "zod";
import { correctionsSchema, finishSchema } from "#core/finish/finish";
import { mapSchema } from "#core/finish/mapSchema";
import { MATERIAL_KINDS, LAYOUTS, SIZE_STATES } from "#core/finish/material";
import { FAMILIES } from "#core/finish/family";
import type { MendKind } from "#core/mend/recipe";
import { notFound } from "#server/problem";
import { SHOWN_COUNT } from "#server/material/shownCount";
import { type Db, oneRow, rows } from "#server/db/database";
import { licenceSchema } from "#server/licence/queries";
import { wornLayersOf, wornLayerSchema } from "#server/material/wear";
import { variantSheetSchema } from "#server/supplier/queries";

const repeatSchema = z.object({ width: z.number(), height: z.number() });

export const findingSchema = z.object({
  level: z.enum(["note", "look", "wrong"]),
  code: z.string(),
  // Written by ourselves, from the kinds of findings.
  told: z.custom<object>((told) => typeof told === "object" && told !== null),
  file: z.string().optional(),
});

const materialMapSchema = mapSchema.extend({
  // Written by ourselves, from the kinds of recipes.
  derived: z.array(z.custom<MendKind>()),
});

const sourceSchema = z.object({
  supplier: z.string().nullable(),
  product: z.string().nullable(),
  productCode: z.string().nullable(),
  page: z.string().nullable(),
  intake: z.string().nullable(),
  sheet: variantSheetSchema.nullable(),
});

export const materialSchema = z.object({
  id: z.string(),
  code: z.string(),
  name: z.string(),
  fileName: z.string(),
  kind: z.enum(MATERIAL_KINDS),
  layout: z.enum(LAYOUTS),
  line: z.string().nullable(),
  lineId: z.string().nullable(),
  variant: z.record(z.string(), z.string()),
  madeFrom: z.object({ id: z.string(), code: z.string(), name: z.string() }).nullable(),
  /** What it turned out to be, where somebody merged it. */
  mergedInto: z.object({ id: z.string(), name: z.string() }).nullable(),
  revision: z.number(),
  currentRevision: z.number(),
  repeat: repeatSchema.nullable(),
  sizeState: z.enum(SIZE_STATES),
  gauge: z.record(z.string(), z.unknown()).nullable(),
  finish: finishSchema,
  corrections: correctionsSchema,
  findings: z.array(findingSchema),
  note: z.string(),
  lightReflectance: z.number().nullable(),
  family: z.enum(FAMILIES).nullable(),
  /** By what that was said; "nothing" where nothing says it. */
  familyFrom: z.enum(["sheet", "name", "folder", "maps", "look", "person", "nothing"]).nullable(),
  tags: z.array(z.string()),
  madeBy: z.string(),
  madeAt: z.coerce.date(),
  maps: z.array(materialMapSchema),
  /** What the wear layers of the finish refer to, in their order. */
  wear: z.array(wornLayerSchema),
  source: sourceSchema,
  licence: licenceSchema.nullable(),
});

export type MaterialRow = z.infer<typeof materialSchema>;

/** One material in one revision, with all that a screen shows of it. */
const MATERIAL = `
  SELECT m.id, m.code, m.name, m.file_name AS "fileName", m.kind, m.layout, m.family, m.family_from AS "familyFrom", m.tags, l.name AS line, l.id AS "lineId", m.variant,
    CASE WHEN o.id IS NULL THEN NULL ELSE jsonb_build_object('id', o.id, 'code', o.code, 'name', o.name) END AS "madeFrom",
    (SELECT jsonb_build_object('id', k.id, 'name', k.name) FROM materials k WHERE k.id = m.merged_into) AS "mergedInto",
    r.number AS revision, m.revision AS "currentRevision",
    CASE WHEN r.repeat_width_mm IS NULL THEN NULL
      ELSE jsonb_build_object('width', r.repeat_width_mm, 'height', r.repeat_height_mm) END AS repeat,
    r.size_state AS "sizeState", r.gauge, r.finish, r.corrections, r.findings, r.note, r.light_reflectance AS "lightReflectance", p.name AS "madeBy", r.made_at AS "madeAt",
    COALESCE((SELECT jsonb_agg(jsonb_build_object('role', a.role, 'sha256', a.sha256, 'channel', a.channel,
        'fileName', a.file_name, 'normalDirection', a.normal_direction, 'derived', a.derived, 'width', i.width, 'height', i.height,
        'bitDepth', i.bit_depth, 'channels', i.channels) ORDER BY a.role)
      FROM maps a JOIN images i USING (sha256) WHERE a.material = m.id AND a.revision = r.number), '[]') AS maps,
    ${wornLayersOf("r")} AS wear,
    jsonb_build_object('supplier', u.name, 'product', s.product, 'productCode', s.product_code, 'page', s.page,
      'intake', s.intake, 'sheet', s.sheet) AS source,
    CASE WHEN c.id IS NULL THEN NULL ELSE jsonb_build_object('name', c.name, 'price', c.price, 'project', c.project,
      'id', c.id, 'projectName', (SELECT name FROM projects WHERE id = c.project), 'endsOn', c.ends_on, 'credit', c.credit) END AS licence
  FROM materials m
  JOIN revisions r ON r.material = m.id
  JOIN people p ON p.id = r.made_by
  JOIN sources s ON s.id = m.source
  LEFT JOIN suppliers u ON u.id = s.supplier
  LEFT JOIN licences c ON c.id = s.licence
  LEFT JOIN lines l ON l.id = m.line
  LEFT JOIN materials o ON o.id = m.made_from`;

/** A material in its current revision, or in an earlier one. */
export function findMaterial(db: Db, id: string, revision?: number): Promise<MaterialRow | undefined> {
  return oneRow(
    db,
    materialSchema,
    `${MATERIAL} WHERE m.id = $1 AND m.deleted_at IS NULL AND r.number = COALESCE($2, m.revision)`,
    [id, revision ?? null],
  );
}

/** A material that nobody else saves until the transaction ends: whoever saves it by a screen waits, and then sees what happened. */
export async function lockMaterial(db: Db, id: string): Promise<MaterialRow | undefined> {
  await db.query("SELECT FROM materials WHERE id = $1 FOR UPDATE", [id]);
  return findMaterial(db, id);
}

/** One that has to be there. @throws {Problem} 404 */
export async function mustFindMaterial(db: Db, id: string, revision?: number): Promise<MaterialRow> {
  const material = await findMaterial(db, id, revision);
  if (!material) throw notFound("material");
  return material;
}

/** What conversion needs of several materials; unknown and deleted ones are left out. */
export async function findMaterialStates(
  db: Db,
  wanted: { id: string; revision: number | null }[],
): Promise<MaterialRow[]> {
  return rows(
    db,
    materialSchema,
    `${MATERIAL}
     JOIN jsonb_to_recordset($1) AS w(id uuid, revision integer) ON w.id = m.id AND r.number = COALESCE(w.revision, m.revision)
     WHERE m.deleted_at IS NULL ORDER BY lower(m.name), m.id`,
    [JSON.stringify(wanted)],
  );
}

/** Materials that show much of what a profile does: with many maps, and a size. */
export const listSampleMaterials = (db: Db) =>
  rows(
    db,
    z.object({ id: z.string(), name: z.string() }),
    `SELECT m.id, m.name FROM materials m
      WHERE m.deleted_at IS NULL AND m.merged_into IS NULL AND m.kind = 'material'
      ORDER BY (SELECT count(*) FROM maps a WHERE a.material = m.id AND a.revision = m.revision) DESC,
        m.size_state = 'known' DESC, lower(m.name), m.id LIMIT 24`,
  );

/** How many materials the library has. */
export async function countMaterials(db: Db): Promise<number> {
  const row = await oneRow(db, z.object({ count: z.number() }), `SELECT ${SHOWN_COUNT} AS count`);
  return row!.count;
}

/**
 * The material without a size that comes after one in the order of names, or the first of all others, and how many others
 * there are.
 */
export async function findNextUnsized(db: Db, id: string) {
  const unsized = `FROM materials m
    WHERE m.deleted_at IS NULL AND m.merged_into IS NULL AND m.layout <> 'plain' AND m.size_state = 'unknown' AND m.kind <> 'environment' AND m.id <> $1`;
  return oneRow(
    db,
    z.object({ id: z.string(), name: z.string(), others: z.number() }),
    `SELECT m.id, m.name, (SELECT count(*)::int ${unsized}) AS others ${unsized}
     ORDER BY (lower(m.name), m.id) <= (SELECT lower(o.name), o.id FROM materials o WHERE o.id = $1), lower(m.name), m.id
     LIMIT 1`,
    [id],
  );
}

/** Live materials that a candidate would clash with: the same name, or the same base color file. */
export function findClashes(db: Db, name: string, baseColor: string | null) {
  return rows(
    db,
    z.object({ id: z.string(), name: z.string(), revision: z.number(), same_name: z.boolean() }),
    `SELECT m.id, m.name, m.revision, lower(m.name) = lower($1) AS same_name FROM materials m
      WHERE m.deleted_at IS NULL AND m.merged_into IS NULL AND m.id IN (
        SELECT id FROM materials WHERE lower(name) = lower($1) AND deleted_at IS NULL
        UNION
        SELECT n.id FROM maps a JOIN materials n ON n.id = a.material AND n.revision = a.revision
         WHERE a.role = 'base_color' AND a.sha256 = $2)
      ORDER BY same_name DESC, m.created_at LIMIT 5`,
    [name, baseColor],
  );
}

export function listRevisions(db: Db, id: string) {
  return rows(
    db,
    z.object({ number: z.number(), note: z.string(), madeBy: z.string(), madeAt: z.date() }),
    `SELECT number, note, p.name AS "madeBy", made_at AS "madeAt" FROM revisions JOIN people p ON p.id = made_by
      WHERE material = $1 ORDER BY number DESC LIMIT 50`,
    [id],
  );
}

/** Collections, projects and deliveries that a material is in. */
export function listUses(db: Db, id: string) {
  return rows(
    db,
    z.object({ kind: z.enum(["collection", "project", "delivery"]), id: z.string(), name: z.string() }),
    `SELECT 'collection' AS kind, c.id, c.name FROM collection_materials JOIN collections c ON c.id = collection WHERE material = $1
     UNION ALL SELECT 'project', p.id, p.name FROM project_revisions JOIN projects p ON p.id = project WHERE material = $1
     UNION ALL (SELECT 'delivery', d.id, to_char(d.created_at, 'YYYY-MM-DD HH24:MI') FROM delivery_materials
       JOIN deliveries d ON d.id = delivery WHERE material = $1 ORDER BY d.created_at DESC LIMIT 20)`,
    [id],
  );
}
