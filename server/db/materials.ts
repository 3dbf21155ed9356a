import anyAscii from "any-ascii";
import { z } from "zod";
import { finishSchema, type Finish } from "#core/finish/finish";
import {
  LAYOUTS,
  MATERIAL_KINDS,
  SIZE_STATES,
  type MaterialKind,
  type Layout,
  type SizeState,
} from "#core/finish/material";
import type { Repeat, RepeatMethod } from "#core/gauge/repeat";
import type { Finding } from "#core/maps/finding";
import type { MapChannel } from "#core/maps/channel";
import { mapSchema } from "#core/finish/mapSchema";
import { ROLES, type NormalDirection, type Role } from "#core/maps/roles";
import type { MendKind } from "#core/mend/recipe";
import { oneRow, rows, type Db } from "#server/db/database";
import { licenceSchema } from "#server/db/facts";
import { variantSheetSchema, type VariantSheet } from "#server/db/suppliers";

const repeatSchema = z.object({ width: z.number(), height: z.number() });

export const findingSchema = z.object({
  level: z.enum(["note", "look", "wrong"]),
  code: z.string(),
  message: z.string(),
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
  variant: z.record(z.string(), z.string()),
  madeFrom: z.object({ id: z.string(), code: z.string(), name: z.string() }).nullable(),
  revision: z.number(),
  currentRevision: z.number(),
  repeat: repeatSchema.nullable(),
  sizeState: z.enum(SIZE_STATES),
  gauge: z.record(z.string(), z.unknown()).nullable(),
  finish: finishSchema,
  findings: z.array(findingSchema),
  note: z.string(),
  madeBy: z.string(),
  madeAt: z.coerce.date(),
  maps: z.array(materialMapSchema),
  source: sourceSchema,
  licence: licenceSchema.nullable(),
});
export type MaterialRow = z.infer<typeof materialSchema>;

/** One material in one revision, with all that a screen shows of it. */
const MATERIAL = `
  SELECT m.id, m.code, m.name, m.file_name AS "fileName", m.kind, m.layout, l.name AS line, m.variant,
    CASE WHEN o.id IS NULL THEN NULL ELSE jsonb_build_object('id', o.id, 'code', o.code, 'name', o.name) END AS "madeFrom",
    r.number AS revision, m.revision AS "currentRevision",
    CASE WHEN r.repeat_width_mm IS NULL THEN NULL
      ELSE jsonb_build_object('width', r.repeat_width_mm, 'height', r.repeat_height_mm) END AS repeat,
    r.size_state AS "sizeState", r.gauge, r.finish, r.findings, r.note, p.name AS "madeBy", r.made_at AS "madeAt",
    COALESCE((SELECT jsonb_agg(jsonb_build_object('role', a.role, 'sha256', a.sha256, 'channel', a.channel,
        'fileName', a.file_name, 'normalDirection', a.normal_direction, 'derived', a.derived, 'width', i.width, 'height', i.height,
        'bitDepth', i.bit_depth, 'channels', i.channels) ORDER BY a.role)
      FROM maps a JOIN images i USING (sha256) WHERE a.material = m.id AND a.revision = r.number), '[]') AS maps,
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

export const sampleSchema = z.object({
  id: z.string(),
  code: z.string(),
  name: z.string(),
  layout: z.enum(LAYOUTS),
  revision: z.number(),
  repeat: repeatSchema.nullable(),
  sizeState: z.enum(SIZE_STATES),
  supplier: z.string().nullable(),
  color: z.string().nullable(),
  preview: z.string().nullable(),
  width: z.number().nullable(),
  height: z.number().nullable(),
  roles: z.array(z.enum(ROLES)),
});
/** A material as the wall shows it. */
export type Sample = z.infer<typeof sampleSchema>;

export interface SampleFilter {
  /** Words that must all occur in name, code or supplier. */
  q?: string;
  sizeState?: SizeState;
  /** Directly in this collection. */
  collection?: string;
  /** In this collection, or in one inside it. */
  withinCollection?: string;
  project?: string;
  offset?: number;
  limit?: number;
}

const totalSchema = z.object({ total: z.number() });
const countedSampleSchema = sampleSchema.extend(totalSchema.shape);

export async function listSamples(db: Db, filter: SampleFilter): Promise<{ items: Sample[]; total: number }> {
  const words = (filter.q ?? "").split(/\s+/).filter(Boolean).slice(0, 8);
  const where = ["m.deleted_at IS NULL"];
  const values: unknown[] = [];
  const value = (v: unknown) => `$${values.push(v)}`;
  for (const word of words) {
    const pattern = value(`%${word.replaceAll(/[\\%_]/g, "\\$&")}%`);
    // Suppliers are few: looked up once, so that counting reads no other table.
    where.push(`(m.words LIKE lower(${pattern}) OR m.source IN (
      SELECT sources.id FROM sources JOIN suppliers ON suppliers.id = supplier WHERE suppliers.name ILIKE ${pattern}))`);
  }
  if (filter.sizeState) where.push(`r.size_state = ${value(filter.sizeState)} AND m.layout <> 'plain'`);
  if (filter.collection)
    where.push(
      `m.id IN (SELECT material FROM collection_materials WHERE collection = ${value(filter.collection)})`,
    );
  if (filter.withinCollection)
    where.push(`m.id IN (${collectionMaterialIds(value(filter.withinCollection))})`);
  if (filter.project) where.push(`m.id IN (${projectMaterialIds(value(filter.project))})`);
  const withRevision = "JOIN revisions r ON r.material = m.id AND r.number = m.revision";
  const conditions = `WHERE ${where.join(" AND ")}`;
  const counting = `SELECT count(*)::int AS total FROM materials m ${filter.sizeState ? withRevision : ""} ${conditions}`;
  const counted = [...values];
  const found = await rows(
    db,
    countedSampleSchema,
    `SELECT (${counting}) AS total, m.id, m.code, m.name, m.layout, m.revision, r.size_state AS "sizeState", u.name AS supplier,
       CASE WHEN r.repeat_width_mm IS NULL THEN NULL
         ELSE jsonb_build_object('width', r.repeat_width_mm, 'height', r.repeat_height_mm) END AS repeat,
       r.finish->>'color' AS color, b.sha256 AS preview, b.width, b.height,
       ARRAY(SELECT role FROM maps a WHERE a.material = m.id AND a.revision = m.revision ORDER BY role) AS roles
     FROM materials m ${withRevision}
     JOIN sources s ON s.id = m.source LEFT JOIN suppliers u ON u.id = s.supplier
     LEFT JOIN LATERAL (
       SELECT a.sha256, i.width, i.height FROM maps a JOIN images i USING (sha256)
        WHERE a.material = m.id AND a.revision = m.revision AND a.role = 'base_color') b ON true
     ${conditions}
     ORDER BY lower(m.name), m.id LIMIT ${value(filter.limit ?? 60)} OFFSET ${value(filter.offset ?? 0)}`,
    values,
  );
  const items = found.map(({ total: _, ...sample }) => sample);
  // A page behind the last one has no row that could tell.
  const total = found[0]?.total ?? (await oneRow(db, totalSchema, counting, counted))!.total;
  return { items, total };
}

/** How many materials the library has. */
export async function countMaterials(db: Db): Promise<number> {
  const row = await oneRow(
    db,
    z.object({ count: z.number() }),
    "SELECT count(*)::int AS count FROM materials WHERE deleted_at IS NULL",
  );
  return row!.count;
}

/**
 * The material without a size that comes after one in the order of names, or the first of all others, and how many others
 * there are.
 */
export async function findNextUnsized(db: Db, id: string) {
  const unsized = `FROM materials m JOIN revisions r ON r.material = m.id AND r.number = m.revision
    WHERE m.deleted_at IS NULL AND m.layout <> 'plain' AND r.size_state = 'unknown' AND m.id <> $1`;
  return oneRow(
    db,
    z.object({ id: z.string(), name: z.string(), others: z.number() }),
    `SELECT m.id, m.name, (SELECT count(*)::int ${unsized}) AS others ${unsized}
     ORDER BY (lower(m.name), m.id) <= (SELECT lower(o.name), o.id FROM materials o WHERE o.id = $1), lower(m.name), m.id
     LIMIT 1`,
    [id],
  );
}

/** SQL for the ids of the materials of some collections and of those inside them; `roots` is SQL for the collections' ids. */
function nestedMaterialIds(roots: string): string {
  return `SELECT cm.material FROM collection_materials cm WHERE cm.collection IN (
      WITH RECURSIVE inside AS (
        ${roots}
        UNION SELECT c.id FROM collections c JOIN inside ON c.parent = inside.id)
      SELECT id FROM inside)`;
}

/** SQL for the ids of all materials of a collection, with those of the collections inside it. */
export const collectionMaterialIds = (collection: string) =>
  nestedMaterialIds(`SELECT ${collection}::uuid AS id`);

/** SQL for the ids of all materials of a project, taken singly or through its collections and those inside them. */
export function projectMaterialIds(project: string): string {
  return `SELECT material FROM project_materials WHERE project = ${project}
    UNION ${nestedMaterialIds(`SELECT collection AS id FROM project_collections WHERE project = ${project}`)}`;
}

export interface NewMap {
  role: Role;
  sha256: string;
  channel: MapChannel;
  fileName: string;
  normalDirection: NormalDirection | null;
  /** How it was derived; not given where it is as it came. */
  derived?: MendKind[];
}

export interface NewRevision {
  repeat: Repeat | null;
  sizeState: SizeState;
  gauge: (RepeatMethod & { keep?: string }) | Record<string, unknown> | null;
  finish: Finish;
  findings: Finding[];
  note: string;
  maps: NewMap[];
}

export interface NewSource {
  supplier?: string | null;
  product?: string | null;
  productCode?: string | null;
  page?: string | null;
  licence?: string | null;
  intake?: string | null;
  /** What the supplier's product sheet said. */
  sheet?: VariantSheet | null;
}

export async function insertMaterial(
  db: Db,
  material: {
    name: string;
    kind: MaterialKind;
    layout: Layout;
    line?: string | null;
    variant?: Record<string, string>;
    madeFrom?: string | null;
    source: NewSource;
    person: string;
  },
  revision: NewRevision,
): Promise<string> {
  const { source } = material;
  const made = await oneRow(
    db,
    z.object({ id: z.string() }),
    `WITH source AS (
       INSERT INTO sources (supplier, product, product_code, page, licence, intake, sheet)
         VALUES ($1, $2, $3, $4, $5, $6, $15) RETURNING id
     ), number AS (SELECT nextval('material_numbers') AS n)
     INSERT INTO materials (code, file_name, name, kind, layout, line, variant, made_from, source, created_by)
     SELECT 'M' || lpad(n::text, greatest(4, length(n::text)), '0'), $7 || lpad(n::text, greatest(4, length(n::text)), '0'),
       $8, $9, $10, $11, $12, $13, source.id, $14 FROM source, number RETURNING id`,
    [
      source.supplier ?? null,
      source.product ?? null,
      source.productCode ?? null,
      source.page ?? null,
      source.licence ?? null,
      source.intake ?? null,
      fileNameStem(material.name),
      material.name,
      material.kind,
      material.layout,
      material.line ?? null,
      JSON.stringify(material.variant ?? {}),
      material.madeFrom ?? null,
      material.person,
      source.sheet ? JSON.stringify(source.sheet) : null,
    ],
  );
  await insertRevision(db, made!.id, 1, material.person, revision);
  return made!.id;
}

/**
 * Saves a new state of a material on top of the revision that the caller saw.
 * @returns the new revision's number, or undefined where somebody saved in the meantime.
 */
export async function saveRevision(
  db: Db,
  material: { id: string; seen: number; person: string },
  revision: NewRevision,
): Promise<number | undefined> {
  const moved = await db.query(
    "UPDATE materials SET revision = revision + 1 WHERE id = $1 AND revision = $2 AND deleted_at IS NULL",
    [material.id, material.seen],
  );
  if (moved.rowCount !== 1) return undefined;
  await insertRevision(db, material.id, material.seen + 1, material.person, revision);
  return material.seen + 1;
}

async function insertRevision(
  db: Db,
  id: string,
  number: number,
  person: string,
  revision: NewRevision,
): Promise<void> {
  await db.query(
    `INSERT INTO revisions (material, number, repeat_width_mm, repeat_height_mm, size_state, gauge, finish, findings, note, made_by)
     VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10)`,
    [
      id,
      number,
      revision.repeat?.width ?? null,
      revision.repeat?.height ?? null,
      revision.sizeState,
      revision.gauge === null ? null : JSON.stringify(revision.gauge),
      JSON.stringify(revision.finish),
      JSON.stringify(revision.findings),
      revision.note,
      person,
    ],
  );
  for (const map of revision.maps)
    await db.query(
      `INSERT INTO maps (material, revision, role, sha256, channel, file_name, normal_direction, derived)
       VALUES ($1, $2, $3, $4, $5, $6, $7, $8)`,
      [id, number, map.role, map.sha256, map.channel, map.fileName, map.normalDirection, map.derived ?? []],
    );
}

/** What stays the same in all revisions. */
export async function updateMaterial(
  db: Db,
  id: string,
  fields: { name?: string; layout?: Layout },
): Promise<void> {
  await db.query(
    "UPDATE materials SET name = COALESCE($2, name), layout = COALESCE($3, layout) WHERE id = $1",
    [id, fields.name ?? null, fields.layout ?? null],
  );
}

export async function markDeleted(db: Db, id: string, deleted: boolean): Promise<boolean> {
  const done = await db.query("UPDATE materials SET deleted_at = CASE WHEN $2 THEN now() END WHERE id = $1", [
    id,
    deleted,
  ]);
  return done.rowCount === 1;
}

/** Live materials that a candidate would clash with: the same name, or the same base color file. */
export function findClashes(db: Db, name: string, baseColor: string | null) {
  return rows(
    db,
    z.object({ id: z.string(), name: z.string(), revision: z.number(), same_name: z.boolean() }),
    `SELECT m.id, m.name, m.revision, lower(m.name) = lower($1) AS same_name FROM materials m
      WHERE m.deleted_at IS NULL AND (lower(m.name) = lower($1) OR EXISTS (
        SELECT 1 FROM maps a WHERE a.material = m.id AND a.revision = m.revision AND a.role = 'base_color' AND a.sha256 = $2))
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

/** Lower-case letters, digits and hyphens for folders and files; "material" where nothing is left of the name. */
function fileNameStem(name: string): string {
  const plain = anyAscii(name.normalize("NFC"))
    .toLowerCase()
    .replaceAll(/[^a-z0-9]+/g, "-")
    .replaceAll(/^-+|-+$/g, "")
    .slice(0, 60)
    .replace(/-+$/, "");
  return `${plain || "material"}-`;
}
