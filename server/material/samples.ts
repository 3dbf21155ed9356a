import { z } from "zod";
import { LAYOUTS, MATERIAL_KINDS, SIZE_STATES } from "#core/finish/material";
import { FAMILIES } from "#core/finish/family";
import type { LibrarySearch, SampleSort } from "#core/library/librarySearch";
import { ROLES } from "#core/roles/roles";
import { type Db, oneRow, rows } from "#server/db/database";
import { SHOWN_COUNT } from "#server/material/shownCount";
import { searchConditions } from "#server/material/searchConditions";
import { readSearch, type Search } from "#server/material/searchWords";

const repeatSchema = z.object({ width: z.number(), height: z.number() });

export const sampleSchema = z.object({
  id: z.string(),
  code: z.string(),
  name: z.string(),
  kind: z.enum(MATERIAL_KINDS),
  layout: z.enum(LAYOUTS),
  revision: z.number(),
  repeat: repeatSchema.nullable(),
  sizeState: z.enum(SIZE_STATES),
  supplier: z.string().nullable(),
  family: z.enum(FAMILIES).nullable(),
  color: z.string().nullable(),
  preview: z.string().nullable(),
  width: z.number().nullable(),
  height: z.number().nullable(),
  roles: z.array(z.enum(ROLES)),
  /** Y × 100 of its mean colour after the finish; null where nobody can say. */
  lightReflectance: z.number().nullable(),
});

/** A material as the wall shows it. */
export type Sample = z.infer<typeof sampleSchema>;

/** A search of the library, and which part of what it finds. */
export interface SampleFilter extends LibrarySearch {
  /** In this collection, or in one inside it. */
  withinCollection?: string;
  /** Shown by the revisions that this project took, in place of the newest. */
  asTakenBy?: string;
  offset?: number;
  limit?: number;
}

const totalSchema = z.object({ total: z.number() });

const countedSampleSchema = sampleSchema.extend(totalSchema.shape);

export async function listSamples(
  db: Db,
  filter: SampleFilter,
): Promise<{ items: Sample[]; total: number; instead: Search["instead"] }> {
  const { sought, instead } = await readSearch(db, filter.q ?? "");
  const values: unknown[] = [];
  const value = (v: unknown) => `$${values.push(v)}`;
  const { tables, joins, where, fits, nearest } = searchConditions(filter, sought, value);
  const counted = [...values];
  const shown = filter.asTakenBy
    ? `COALESCE((SELECT t.revision FROM project_revisions t WHERE t.project = ${value(filter.asTakenBy)} AND t.material = m.id), m.revision)`
    : "m.revision";
  const conditions = `${joins.join(" ")} WHERE ${where.join(" AND ")}`;
  const counting = isAll(filter)
    ? `SELECT ${SHOWN_COUNT} AS total`
    : `SELECT count(*)::int AS total FROM materials m ${conditions}`;
  const first = (more: string[]) =>
    tables.length + more.length > 0 ? `WITH ${[...tables, ...more].join(", ")}` : "";
  const order = orderOf(filter.sort, fits, nearest);
  const found = await rows(
    db,
    countedSampleSchema,
    // Which ones come first is settled before anything else of them is looked up.
    `${first([
      `picked AS MATERIALIZED (
         SELECT m.id FROM materials m ${conditions}
          ORDER BY ${order} LIMIT ${value(filter.limit ?? 60)} OFFSET ${value(filter.offset ?? 0)})`,
      "numbered AS (SELECT id, row_number() OVER () AS place FROM picked)",
    ])}
     SELECT (${counting}) AS total, m.id, m.code, m.name, m.kind, m.layout, r.number AS revision, r.size_state AS "sizeState", u.name AS supplier, m.family,
       CASE WHEN r.repeat_width_mm IS NULL THEN NULL
         ELSE jsonb_build_object('width', r.repeat_width_mm, 'height', r.repeat_height_mm) END AS repeat,
       r.finish->>'color' AS color, b.sha256 AS preview, b.width, b.height,
       ARRAY(SELECT role FROM maps a WHERE a.material = m.id AND a.revision = r.number ORDER BY role) AS roles,
       r.light_reflectance AS "lightReflectance"
     FROM numbered JOIN materials m USING (id) JOIN revisions r ON r.material = m.id AND r.number = ${shown}
     JOIN sources s ON s.id = m.source LEFT JOIN suppliers u ON u.id = s.supplier
     LEFT JOIN LATERAL (
       SELECT a.sha256, i.width, i.height FROM maps a JOIN images i USING (sha256)
        WHERE a.material = m.id AND a.revision = r.number AND a.role = CASE m.kind WHEN 'wear' THEN 'wear_mask' WHEN 'environment' THEN 'environment' ELSE 'base_color' END) b ON true
     ORDER BY place`,
    values,
    isAll(filter) ? "once" : "each-time",
  );
  const items = found.map(({ total: _, ...sample }) => sample);
  // A page behind the last one has no row that could tell.
  const total =
    found[0]?.total ?? (await oneRow(db, totalSchema, `${first([])} ${counting}`, counted))!.total;
  return { items, total, instead };
}

const idSchema = z.object({ id: z.string() });

/** The ids of what a search finds, in the order of the wall. */
export async function listSampleIds(db: Db, search: LibrarySearch, limit: number): Promise<string[]> {
  const { sought } = await readSearch(db, search.q ?? "");
  const values: unknown[] = [];
  const value = (v: unknown) => `$${values.push(v)}`;
  const { tables, joins, where, fits, nearest } = searchConditions(search, sought, value);
  const found = await rows(
    db,
    idSchema,
    `${tables.length > 0 ? `WITH ${tables.join(", ")}` : ""} SELECT m.id FROM materials m ${joins.join(" ")}
      WHERE ${where.join(" AND ")} ORDER BY ${orderOf(search.sort, fits, nearest)} LIMIT ${value(limit)}`,
    values,
    "each-time",
  );
  return found.map(({ id }) => id);
}

/** Nothing is said of what is looked for, but in which order, and which part of it. */
const isAll = ({ sort: _, offset: __, limit: ___, ...search }: SampleFilter): boolean =>
  Object.values(search).every((wanted) => wanted === undefined || wanted === null || wanted === "");

/** Equal ones always stand in the same order. */
function orderOf(sort: SampleSort | undefined, fits: string[], nearest: string[]): string {
  const name = "lower(m.name), m.id";
  const isByFit = fits.length + nearest.length > 0;
  switch (sort ?? (isByFit ? "fit" : "name")) {
    case "fit":
      return [...nearest, ...(fits.length > 0 ? [`${fits.join(" + ")} DESC`] : []), name].join(", ");
    case "newest":
      return "m.created_at DESC, m.id";
    case "used":
      return `used.uses DESC NULLS LAST, ${name}`;
    case "color":
      return `m.color_order NULLS LAST, ${name}`;
    case "size":
      return `m.repeat_width_mm * m.repeat_height_mm DESC NULLS LAST, ${name}`;
    case "name":
      return name;
  }
}
