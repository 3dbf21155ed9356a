import { z } from "zod";
import type { Camera } from "#core/judge/holdsUp";
import { oneRow, rows, violates, type Db } from "#server/db/database";
import { changeMembers, type MemberChange } from "#server/db/members";
import { collectionMaterialIds, projectMaterialIds } from "#server/db/materials";
import { conflict } from "#server/problem";

export const projectSchema = z.object({
  id: z.string(),
  name: z.string(),
  number: z.string().nullable(),
  collections: z.array(z.object({ id: z.string(), name: z.string(), count: z.number() })),
  /** The camera of its pictures; null where nobody said. */
  camera: z.object({ widthPx: z.number(), angleDegrees: z.number() }).nullable(),
  /** Taken singly. */
  materials: z.array(z.string()),
  /** Every material of the project, with the revision that it took and the newest. */
  revisions: z.array(z.object({ material: z.string(), taken: z.number(), newest: z.number() })),
});
export type ProjectRow = z.infer<typeof projectSchema>;

const PROJECT = `
  SELECT p.id, p.name, p.number,
    CASE WHEN p.camera_width_px IS NULL THEN NULL
      ELSE jsonb_build_object('widthPx', p.camera_width_px, 'angleDegrees', p.camera_angle_degrees) END AS camera,
    COALESCE((SELECT jsonb_agg(jsonb_build_object('id', c.id, 'name', c.name,
        'count', (SELECT count(*) FROM (${collectionMaterialIds("c.id")}) AS inside)) ORDER BY lower(c.name))
      FROM project_collections pc JOIN collections c ON c.id = pc.collection WHERE pc.project = p.id), '[]') AS collections,
    ARRAY(SELECT material::text FROM project_materials WHERE project = p.id) AS materials,
    COALESCE((SELECT jsonb_agg(jsonb_build_object('material', m.id, 'taken', COALESCE(pr.revision, m.revision), 'newest', m.revision))
      FROM materials m LEFT JOIN project_revisions pr ON pr.material = m.id AND pr.project = p.id
      WHERE m.deleted_at IS NULL AND m.id IN (${projectMaterialIds("p.id")})), '[]') AS revisions
  FROM projects p`;

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

export async function insertProject(
  db: Db,
  project: { name: string; number: string | null; person: string },
): Promise<string> {
  const row = await unlessTaken(project, () =>
    oneRow(
      db,
      z.object({ id: z.string() }),
      "INSERT INTO projects (name, number, created_by) VALUES ($1, $2, $3) RETURNING id",
      [project.name, project.number, project.person],
    ),
  );
  return row!.id;
}

export async function setCamera(db: Db, id: string, camera: Camera | null): Promise<boolean> {
  const done = await db.query(
    "UPDATE projects SET camera_width_px = $2, camera_angle_degrees = $3 WHERE id = $1",
    [id, camera?.widthPx ?? null, camera?.angleDegrees ?? null],
  );
  return done.rowCount === 1;
}

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

/** Gives collections or single materials to a project, or takes them from it. */
export async function changeProject(
  db: Db,
  what: "collections" | "materials",
  id: string,
  change: MemberChange,
): Promise<void> {
  await changeMembers(db, `project_${what}`, id, change);
  await settleRevisions(db, id);
}

/** Puts materials into a collection or takes them out, for every project that shares it. */
export async function changeCollection(db: Db, id: string, change: MemberChange): Promise<void> {
  await changeMembers(db, "collection_materials", id, change);
  await settleRevisionsOfCollection(db, id);
}

/** Renames a project, or gives it another number; null takes its number away. @returns whether there is one */
export async function updateProject(
  db: Db,
  id: string,
  { name, number }: { name?: string; number?: string | null },
): Promise<boolean> {
  const done = await unlessTaken({ name, number }, () =>
    db.query(
      "UPDATE projects SET name = COALESCE($2, name), number = CASE WHEN $3 THEN $4 ELSE number END WHERE id = $1",
      [id, name ?? null, number !== undefined, number ?? null],
    ),
  );
  return done.rowCount === 1;
}

/** @throws {Problem} where another project has the name or the number */
async function unlessTaken<T>(
  { name, number }: { name?: string; number?: string | null },
  write: () => Promise<T>,
): Promise<T> {
  try {
    return await write();
  } catch (error) {
    if (violates(error, "projects_name_key"))
      throw conflict(`There is a project “${name}” already.`, "/name");
    if (violates(error, "projects_number_key"))
      throw conflict(`The number “${number}” belongs to another project.`, "/number");
    throw error;
  }
}

/** Fixes the revision of what a project has newly taken, and forgets what it has no longer. */
export async function settleRevisions(db: Db, project: string): Promise<void> {
  await db.query(
    `INSERT INTO project_revisions (project, material, revision)
     SELECT $1, id, revision FROM materials WHERE id IN (${projectMaterialIds("$1")}) ON CONFLICT DO NOTHING`,
    [project],
  );
  await db.query(
    `DELETE FROM project_revisions WHERE project = $1 AND material NOT IN (${projectMaterialIds("$1")})`,
    [project],
  );
}

/** After a collection changed: the same for every project that takes it. */
async function settleRevisionsOfCollection(db: Db, collection: string): Promise<void> {
  for (const project of await projectsTaking(db, collection)) await settleRevisions(db, project);
}

/** The projects that take a collection, directly or through one around it. */
export async function projectsTaking(db: Db, collection: string): Promise<string[]> {
  const found = await rows(
    db,
    z.object({ project: z.string() }),
    `WITH RECURSIVE around AS (
       SELECT id, parent FROM collections WHERE id = $1
       UNION SELECT c.id, c.parent FROM collections c JOIN around ON c.id = around.parent)
     SELECT DISTINCT project FROM project_collections WHERE collection IN (SELECT id FROM around)`,
    [collection],
  );
  return found.map(({ project }) => project);
}

/** Moves a project on to the newest revision of some of its materials. */
export async function moveOn(db: Db, project: string, materials: string[]): Promise<void> {
  await db.query(
    `UPDATE project_revisions pr SET revision = m.revision FROM materials m
      WHERE pr.project = $1 AND pr.material = ANY($2::uuid[]) AND m.id = pr.material`,
    [project, materials],
  );
}
