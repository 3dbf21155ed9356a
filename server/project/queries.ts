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
