import { z } from "zod";
import { cameraSchema } from "#core/judge/holdsUp";
import { type Db, oneRow, rows } from "#server/db/database";
import { collectionMaterialIds, projectMaterialIds } from "#server/material/members";

export const projectSchema = z.object({
  id: z.string(),
  name: z.string(),
  number: z.string().nullable(),
  collections: z.array(z.object({ id: z.string(), name: z.string(), count: z.number() })),
  /** The camera of its pictures; null where nobody said. */
  camera: cameraSchema.nullable(),
  /** Taken singly. */
  materials: z.array(z.string()),
  /** Every material of the project, with the revision that it took and the newest. */
  revisions: z.array(z.object({ material: z.string(), taken: z.number(), newest: z.number() })),
});

export type ProjectRow = z.infer<typeof projectSchema>;

const CAMERA = `CASE WHEN p.camera_width_px IS NULL THEN NULL
  ELSE jsonb_build_object('widthPx', p.camera_width_px, 'angleDegrees', p.camera_angle_degrees) END`;

const COLLECTIONS = `COALESCE((SELECT jsonb_agg(jsonb_build_object('id', c.id, 'name', c.name,
    'count', (SELECT count(*) FROM (${collectionMaterialIds("c.id")}) AS inside)) ORDER BY lower(c.name))
  FROM project_collections pc JOIN collections c ON c.id = pc.collection WHERE pc.project = p.id), '[]')`;

const PROJECT = `
  SELECT p.id, p.name, p.number, ${CAMERA} AS camera, ${COLLECTIONS} AS collections,
    ARRAY(SELECT material::text FROM project_materials WHERE project = p.id) AS materials,
    COALESCE((SELECT jsonb_agg(jsonb_build_object('material', m.id, 'taken', COALESCE(pr.revision, m.revision), 'newest', m.revision))
      FROM materials m LEFT JOIN project_revisions pr ON pr.material = m.id AND pr.project = p.id
      WHERE m.deleted_at IS NULL AND m.id IN (${projectMaterialIds("p.id")})), '[]') AS revisions
  FROM projects p`;

/** A project as a list shows it: how many materials, and of how many there is a newer revision than it took. */
const projectSummarySchema = projectSchema
  .pick({ id: true, name: true, number: true })
  .extend({ collections: z.array(z.string()), count: z.number(), newer: z.number() });

export const listProjectSummaries = (db: Db) =>
  rows(
    db,
    projectSummarySchema,
    `SELECT p.id, p.name, p.number,
       ARRAY(SELECT c.name FROM project_collections pc JOIN collections c ON c.id = pc.collection
              WHERE pc.project = p.id ORDER BY lower(c.name)) AS collections,
       (SELECT count(*)::int FROM project_revisions WHERE project = p.id)
         - (SELECT count(*)::int FROM materials m JOIN project_revisions pr ON pr.material = m.id
             WHERE m.deleted_at IS NOT NULL AND pr.project = p.id) AS count,
       (SELECT count(*)::int FROM materials m JOIN project_revisions pr ON pr.material = m.id
         WHERE (m.revision > 1 OR m.merged_into IS NOT NULL) AND m.deleted_at IS NULL AND pr.project = p.id
           AND (m.revision > pr.revision OR m.merged_into IS NOT NULL)) AS newer
     FROM projects p
     ORDER BY p.number NULLS LAST, lower(p.name)`,
  );

/** What the screen of a project says of it, without its materials. */
const projectPlaceSchema = projectSchema
  .pick({ id: true, name: true, number: true, collections: true, camera: true })
  .extend({
    /** How many it takes singly. */
    singly: z.number(),
    /** Those that have a newer revision than it took. */
    newer: z.array(z.string()),
  });

export const findProjectPlace = (db: Db, id: string) =>
  oneRow(
    db,
    projectPlaceSchema,
    `SELECT p.id, p.name, p.number, ${CAMERA} AS camera, ${COLLECTIONS} AS collections,
       (SELECT count(*)::int FROM project_materials WHERE project = p.id) AS singly,
       ARRAY(SELECT m.id::text FROM project_revisions pr JOIN materials m ON m.id = pr.material
              WHERE pr.project = p.id AND m.deleted_at IS NULL
               AND ((m.revision > 1 AND m.revision > pr.revision) OR m.merged_into IS NOT NULL)) AS newer
     FROM projects p WHERE p.id = $1`,
    [id],
  );

const takenSchema = z.object({
  material: z.string(),
  taken: z.number(),
  newest: z.number(),
  /** The name of what it was merged into. */
  mergedInto: z.string().nullable(),
  singly: z.boolean(),
});

/** How a project has taken some materials: in which revision, and whether singly. */
export const listTaken = (db: Db, project: string, materials: string[]) =>
  rows(
    db,
    takenSchema,
    `SELECT pr.material, pr.revision AS taken, m.revision AS newest,
       (SELECT name FROM materials k WHERE k.id = m.merged_into) AS "mergedInto",
       EXISTS (SELECT FROM project_materials WHERE project = pr.project AND material = pr.material) AS singly
     FROM project_revisions pr JOIN materials m ON m.id = pr.material
     WHERE pr.project = $1 AND pr.material = ANY($2::uuid[])`,
    [project, materials],
  );

const holdingSchema = z.object({
  id: z.string(),
  name: z.string(),
  number: z.string().nullable(),
  taken: z.number(),
  newest: z.number(),
  /** The revision that it had before it moved on. */
  before: z.number().nullable(),
  /** How many deliveries of the project have the material. */
  deliveries: z.number(),
});
export type Holding = z.infer<typeof holdingSchema>;

/** Which projects have a material, and in which revision: those that are behind first. */
export const listHoldings = (db: Db, material: string) =>
  rows(
    db,
    holdingSchema,
    `SELECT p.id, p.name, p.number, r.revision AS taken, m.revision AS newest, r.before,
       (SELECT count(*)::int FROM delivery_materials dm JOIN deliveries d ON d.id = dm.delivery
         WHERE dm.material = m.id AND d.project = p.id) AS deliveries
     FROM project_revisions r JOIN projects p ON p.id = r.project JOIN materials m ON m.id = r.material
     WHERE r.material = $1 ORDER BY r.revision < m.revision DESC, p.number NULLS LAST, lower(p.name)`,
    [material],
  );

const newerSchema = z.object({
  id: z.string(),
  name: z.string(),
  taken: z.number(),
  newest: z.number(),
  mergedInto: z.object({ id: z.string(), name: z.string() }).nullable(),
  /** What the newest revision says of itself. */
  note: z.string(),
  by: z.string(),
});

/** What there is newer of a project's materials than it took, to be looked at before it moves on. */
export const listNewer = (db: Db, project: string, limit: number) =>
  rows(
    db,
    newerSchema,
    `SELECT m.id, m.name, pr.revision AS taken, m.revision AS newest, r.note, p.name AS by,
       (SELECT jsonb_build_object('id', k.id, 'name', k.name) FROM materials k WHERE k.id = m.merged_into) AS "mergedInto"
     FROM project_revisions pr JOIN materials m ON m.id = pr.material
     JOIN revisions r ON r.material = m.id AND r.number = m.revision JOIN people p ON p.id = r.made_by
     WHERE pr.project = $1 AND m.deleted_at IS NULL AND (m.revision > pr.revision OR m.merged_into IS NOT NULL)
     ORDER BY r.made_at DESC, m.id LIMIT $2`,
    [project, limit],
  );

/** Materials that a project moved on with, and can go back. */
export const listMovedOn = (db: Db, project: string, limit: number) =>
  rows(
    db,
    z.object({ id: z.string(), name: z.string(), taken: z.number(), before: z.number() }),
    `SELECT m.id, m.name, pr.revision AS taken, pr.before FROM project_revisions pr JOIN materials m ON m.id = pr.material
      WHERE pr.project = $1 AND pr.before IS NOT NULL AND pr.before <> pr.revision AND m.deleted_at IS NULL
        AND pr.revision = m.revision ORDER BY lower(m.name), m.id LIMIT $2`,
    [project, limit],
  );

export const findProject = (db: Db, id: string) =>
  oneRow(db, projectSchema, `${PROJECT} WHERE p.id = $1`, [id]);

/** Names alone, for choosing. */
export const listProjectNames = (db: Db) =>
  rows(
    db,
    projectSchema.pick({ id: true, name: true }),
    "SELECT id, name FROM projects ORDER BY number NULLS LAST, lower(name)",
  );

export const listProjects = (db: Db) =>
  rows(db, projectSchema, `${PROJECT} ORDER BY p.number NULLS LAST, lower(p.name)`);

/** Projects with a camera of their own; those that use a material first. */
export const listCameras = (db: Db, material: string) =>
  rows(
    db,
    z.object({
      id: z.string(),
      name: z.string(),
      uses: z.boolean(),
      camera: z.object({ widthPx: z.number(), angleDegrees: z.number() }),
    }),
    `SELECT p.id, p.name, r.material IS NOT NULL AS uses,
       jsonb_build_object('widthPx', p.camera_width_px, 'angleDegrees', p.camera_angle_degrees) AS camera
     FROM projects p LEFT JOIN project_revisions r ON r.project = p.id AND r.material = $1
     WHERE p.camera_width_px IS NOT NULL ORDER BY uses DESC, lower(p.name)`,
    [material],
  );
