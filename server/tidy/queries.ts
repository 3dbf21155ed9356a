import { z } from "zod";
import { type Db, oneRow, rows } from "#server/db/database";

const namedSchema = z.object({ id: z.string(), name: z.string() });
const shownSchema = namedSchema.extend({
  code: z.string(),
  preview: z.string().nullable(),
  color: z.string().nullable(),
});
export type ShownMaterial = z.infer<typeof shownSchema>;

const LIVING = "m.deleted_at IS NULL AND m.merged_into IS NULL";
const SHOWN = `jsonb_build_object('id', m.id, 'name', m.name, 'code', m.code, 'color', r.finish->>'color',
  'preview', (SELECT b.sha256 FROM maps b WHERE b.material = m.id AND b.revision = m.revision AND b.role = 'base_color'))`;

const twinsSchema = z.object({
  first: z.object({ id: z.string(), at: z.coerce.date() }),
  later: z.object({ id: z.string(), at: z.coerce.date() }),
  /** Of the first intake, and of the later one: the same files, whatever they are called. */
  pairs: z.array(z.tuple([shownSchema, shownSchema])),
});
export type TwinIntakes = z.infer<typeof twinsSchema>;

/** More intakes than these are looked at the next time. */
const MOST_TWINS = 20;

/** Intakes that brought the very same files: a folder that was taken in twice. Those with most in common come first. */
export const listTwinIntakes = (db: Db): Promise<TwinIntakes[]> =>
  rows(
    db,
    twinsSchema,
    // As they came: what was given to one of them since makes it no other download.
    `WITH whole AS (
       SELECT m.id, s.intake, m.created_at, ${SHOWN} AS shown,
         (SELECT string_agg(a.role || ' ' || a.sha256 || ' ' || a.channel, ',' ORDER BY a.role) FROM maps a WHERE a.material = m.id AND a.revision = 1) AS files
         FROM materials m JOIN sources s ON s.id = m.source JOIN revisions r ON r.material = m.id AND r.number = m.revision
        WHERE ${LIVING} AND s.intake IS NOT NULL)
     SELECT jsonb_build_object('id', i.id, 'at', i.created_at) AS first, jsonb_build_object('id', j.id, 'at', j.created_at) AS later,
       jsonb_agg(jsonb_build_array(f.shown, l.shown) ORDER BY f.shown->>'name') AS pairs
       FROM whole f JOIN whole l ON l.files = f.files AND l.id <> f.id
         JOIN intakes i ON i.id = f.intake JOIN intakes j ON j.id = l.intake
      WHERE (i.created_at, i.id) < (j.created_at, j.id)
      GROUP BY i.id, j.id ORDER BY count(*) DESC, i.created_at, j.created_at LIMIT ${MOST_TWINS}`,
  );

const sameContentsSchema = z.object({
  materials: z.number().int(),
  samples: z.array(shownSchema),
  collections: z.array(namedSchema.extend({ inside: z.string().nullable(), projects: z.array(z.string()) })),
});
export type SameContents = z.infer<typeof sameContentsSchema>;

/** Collections, filled by hand, that hold the very same materials. The oldest of each comes first. */
export const listSameContents = (db: Db): Promise<SameContents[]> =>
  rows(
    db,
    sameContentsSchema,
    `WITH held AS (
       SELECT cm.collection, array_agg(cm.material ORDER BY cm.material) AS materials
         FROM collection_materials cm JOIN materials m ON m.id = cm.material WHERE ${LIVING} GROUP BY cm.collection)
     SELECT cardinality(h.materials) AS materials,
       COALESCE((SELECT jsonb_agg(shown) FROM (SELECT ${SHOWN} AS shown FROM materials m JOIN revisions r ON r.material = m.id AND r.number = m.revision
         WHERE m.id = ANY (h.materials) ORDER BY lower(m.name) LIMIT 6) few), '[]') AS samples,
       jsonb_agg(jsonb_build_object('id', c.id, 'name', c.name, 'inside', p.name,
         'projects', ARRAY(WITH RECURSIVE around AS (SELECT c.id, c.parent UNION SELECT o.id, o.parent FROM collections o JOIN around ON o.id = around.parent)
           SELECT DISTINCT pr.name FROM project_collections pc JOIN projects pr ON pr.id = pc.project
            WHERE pc.collection IN (SELECT id FROM around) ORDER BY pr.name))
         ORDER BY c.created_at, c.id) AS collections
       FROM held h JOIN collections c ON c.id = h.collection LEFT JOIN collections p ON p.id = c.parent
      WHERE c.filter IS NULL GROUP BY h.materials HAVING count(*) > 1 ORDER BY cardinality(h.materials) DESC LIMIT 40`,
  );

const unusedSchema = z.object({
  total: z.number().int(),
  items: z.array(shownSchema),
  ids: z.array(z.string()),
});

/** As many as one act changes. */
const MOST_UNUSED = 5000;

/** Materials, no environments that may light a view, in no collection and no project, never delivered, under no other and no copy of theirs, for so many days; the oldest first. */
export async function listUnused(db: Db, days: number): Promise<z.infer<typeof unusedSchema>> {
  const row = await oneRow(
    db,
    unusedSchema,
    `WITH unused AS MATERIALIZED (
       SELECT m.id, m.created_at FROM materials m
        WHERE ${LIVING} AND m.kind <> 'environment' AND m.created_at < now() - make_interval(days => $1)
          AND NOT EXISTS (SELECT FROM collection_materials c WHERE c.material = m.id)
          AND NOT EXISTS (SELECT FROM project_revisions p WHERE p.material = m.id)
          AND NOT EXISTS (SELECT FROM delivery_materials d WHERE d.material = m.id)
          AND NOT EXISTS (SELECT FROM worn_layers w WHERE w.layer = m.id)
          AND NOT EXISTS (SELECT FROM materials o WHERE o.made_from = m.id AND o.deleted_at IS NULL))
     SELECT (SELECT count(*)::int FROM unused) AS total,
       ARRAY(SELECT id::text FROM unused ORDER BY created_at, id LIMIT ${MOST_UNUSED}) AS ids,
       COALESCE((SELECT jsonb_agg(shown) FROM (SELECT ${SHOWN} AS shown FROM unused u JOIN materials m ON m.id = u.id
         JOIN revisions r ON r.material = m.id AND r.number = m.revision ORDER BY u.created_at, u.id LIMIT 48) few), '[]') AS items`,
    [days],
  );
  return row!;
}

const licenceInTroubleSchema = z.object({
  id: z.string(),
  name: z.string(),
  /** Ended, about to end, or taken by other projects than the one that it is for. */
  why: z.enum(["ended", "ends", "others"]),
  endsOn: z.string().nullable(),
  materials: z.number().int(),
  samples: z.array(shownSchema),
  projects: z.array(z.string()),
});
export type LicenceInTrouble = z.infer<typeof licenceInTroubleSchema>;

const SOON_DAYS = 30;

/** Licences of living materials that ended, end within a month, or are for one project while another one has their materials. */
export const listLicencesInTrouble = (db: Db): Promise<LicenceInTrouble[]> =>
  rows(
    db,
    licenceInTroubleSchema,
    `WITH covered AS (
       SELECT c.id AS licence, c.project, c.ends_on, m.id FROM licences c JOIN sources s ON s.licence = c.id JOIN materials m ON m.source = s.id WHERE ${LIVING}),
     troubled AS (
       SELECT licence, CASE WHEN ends_on < current_date THEN 'ended' ELSE 'ends' END AS why, id, NULL::uuid AS project FROM covered
        WHERE ends_on < current_date + ${SOON_DAYS}
       UNION ALL SELECT v.licence, 'others', v.id, t.project FROM covered v JOIN project_revisions t ON t.material = v.id
        WHERE v.project IS NOT NULL AND t.project <> v.project)
     SELECT c.id, c.name, t.why, to_char(c.ends_on, 'YYYY-MM-DD') AS "endsOn", count(DISTINCT t.id)::int AS materials,
       COALESCE((SELECT jsonb_agg(shown) FROM (SELECT ${SHOWN} AS shown FROM materials m JOIN revisions r ON r.material = m.id AND r.number = m.revision
         WHERE m.id = ANY (array_agg(t.id)) ORDER BY lower(m.name) LIMIT 6) few), '[]') AS samples,
       ARRAY(SELECT DISTINCT p.name FROM project_revisions u JOIN projects p ON p.id = u.project
         WHERE u.material = ANY (array_agg(t.id)) AND (t.why <> 'others' OR p.id = ANY (array_agg(t.project))) ORDER BY p.name) AS projects
       FROM troubled t JOIN licences c ON c.id = t.licence GROUP BY c.id, t.why ORDER BY t.why, c.ends_on, lower(c.name)`,
  );

const goneSchema = z.object({
  sha256: z.string(),
  fileName: z.string(),
  role: z.string(),
  foundAt: z.coerce.date(),
  material: shownSchema,
});
export type GoneOriginal = z.infer<typeof goneSchema>;

/** Maps of living materials whose file was not there when somebody looked, the first of them. */
export const listGone = (db: Db): Promise<GoneOriginal[]> =>
  rows(
    db,
    goneSchema,
    `SELECT a.sha256, a.file_name AS "fileName", a.role, g.found_at AS "foundAt", ${SHOWN} AS material
       FROM missing_originals g JOIN maps a ON a.sha256 = g.sha256 JOIN materials m ON m.id = a.material AND m.revision = a.revision
         JOIN revisions r ON r.material = m.id AND r.number = m.revision
      WHERE ${LIVING} ORDER BY lower(m.name), a.role LIMIT 500`,
  );

const lookSchema = z.object({
  id: z.string(),
  madeAt: z.coerce.date(),
  madeBy: z.string(),
  lookedAt: z.number().int(),
  total: z.number().int(),
  doneAt: z.coerce.date().nullable(),
  failure: z.string().nullable(),
});

export const newestLook = (db: Db) =>
  oneRow(
    db,
    lookSchema,
    `SELECT l.id, l.made_at AS "madeAt", p.name AS "madeBy", l.looked_at AS "lookedAt", l.total, l.done_at AS "doneAt", l.failure
       FROM original_looks l JOIN people p ON p.id = l.made_by ORDER BY l.made_at DESC LIMIT 1`,
  );
