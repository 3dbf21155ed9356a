import { z } from "zod";
import { FAMILIES } from "#core/finish/family";
import { LAYOUTS, SIZE_STATES } from "#core/finish/material";
import { type Db, oneRow, rows } from "#server/db/database";

const lineSchema = z.object({
  id: z.string(),
  name: z.string(),
  /** Null where nobody knows who makes what is in it. */
  supplier: z.string().nullable(),
  page: z.string().nullable(),
  members: z.number().int(),
});
export type LineRow = z.infer<typeof lineSchema>;

const LINE = `SELECT l.id, l.name, u.name AS supplier, u.page, count(m.id)::int AS members
  FROM lines l LEFT JOIN suppliers u ON u.id = l.supplier
  LEFT JOIN materials m ON m.line = l.id AND m.deleted_at IS NULL AND m.merged_into IS NULL`;

export const findLineById = (db: Db, id: string): Promise<LineRow | undefined> =>
  oneRow(db, lineSchema, `${LINE} WHERE l.id = $1 GROUP BY l.id, u.id`, [id]);

/** One member of a line, as its grid shows it. */
const memberSchema = z.object({
  id: z.string(),
  name: z.string(),
  code: z.string(),
  productCode: z.string().nullable(),
  variant: z.record(z.string(), z.string()),
  layout: z.enum(LAYOUTS),
  family: z.enum(FAMILIES).nullable(),
  color: z.string().nullable(),
  preview: z.string().nullable(),
  sizeState: z.enum(SIZE_STATES),
  colorOrder: z.number().nullable(),
  roughness: z.number(),
  /** Whether it has a picture of its colour, or is plain. */
  hasColor: z.boolean(),
  /** Names of what holds it. */
  projects: z.array(z.string()),
  collections: z.array(z.string()),
});
export type LineMemberRow = z.infer<typeof memberSchema>;

/** More members of one line than a screen has places for. */
export const MOST_MEMBERS = 3000;

export const listLineMembers = (db: Db, line: string): Promise<LineMemberRow[]> =>
  rows(
    db,
    memberSchema,
    `SELECT m.id, m.name, m.code, s.product_code AS "productCode", m.variant, m.layout, m.family, r.finish->>'color' AS color,
       b.sha256 AS preview, r.size_state AS "sizeState", m.color_order AS "colorOrder", (r.finish->>'roughness')::float AS roughness,
       m.layout = 'plain' OR b.sha256 IS NOT NULL AS "hasColor",
       ARRAY(SELECT p.name FROM project_revisions t JOIN projects p ON p.id = t.project WHERE t.material = m.id ORDER BY lower(p.name)) AS projects,
       ARRAY(SELECT c.name FROM collection_materials cm JOIN collections c ON c.id = cm.collection WHERE cm.material = m.id ORDER BY lower(c.name)) AS collections
     FROM materials m JOIN revisions r ON r.material = m.id AND r.number = m.revision JOIN sources s ON s.id = m.source
     LEFT JOIN maps b ON b.material = m.id AND b.revision = m.revision AND b.role = 'base_color'
     WHERE m.line = $1 AND m.deleted_at IS NULL AND m.merged_into IS NULL ORDER BY lower(m.name), m.id LIMIT ${MOST_MEMBERS}`,
    [line],
  );

const shownSchema = lineSchema.extend({
  /** Of the members in the order of their colours, evenly picked: what a strip shows. */
  strip: z.array(z.object({ color: z.string().nullable(), preview: z.string().nullable() })),
});
export type ShownLine = z.infer<typeof shownSchema>;

const STRIP = 24;

/** The lines that have members, by supplier and name, each with a strip of them. */
export const listLines = (
  db: Db,
  { limit, offset }: { limit: number; offset: number },
): Promise<ShownLine[]> =>
  rows(
    db,
    shownSchema,
    `WITH shown AS (${LINE} GROUP BY l.id, u.id HAVING count(m.id) > 0 ORDER BY lower(u.name), lower(l.name), l.id LIMIT $1 OFFSET $2)
     SELECT shown.*, COALESCE((
       SELECT jsonb_agg(jsonb_build_object('color', color, 'preview', preview) ORDER BY at) FROM (
         SELECT r.finish->>'color' AS color, b.sha256 AS preview, row_number() OVER (ORDER BY m.color_order NULLS LAST, m.id) AS at
           FROM materials m JOIN revisions r ON r.material = m.id AND r.number = m.revision
           LEFT JOIN maps b ON b.material = m.id AND b.revision = m.revision AND b.role = 'base_color'
          WHERE m.line = shown.id AND m.deleted_at IS NULL AND m.merged_into IS NULL) each
        WHERE (at - 1) % greatest(1, ceil(shown.members / ${STRIP}.0)::int) = 0), '[]') AS strip
     FROM shown ORDER BY lower(supplier), lower(name), id`,
    [limit, offset],
  );
