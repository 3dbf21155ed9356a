import { z } from "zod";
import type { Camera } from "#core/judge/holdsUp";
import { type Db, oneRow, violates, rows } from "#server/db/database";
import { type MemberChange, changeMembers } from "#server/db/members";
import { projectMaterialIds } from "#server/material/members";
import { conflict } from "#server/problem";
import { overtaken } from "#server/jobs/overtaken";

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

export async function updateCamera(db: Db, id: string, camera: Camera | null): Promise<boolean> {
  const done = await db.query(
    "UPDATE projects SET camera_width_px = $2, camera_angle_degrees = $3 WHERE id = $1",
    [id, camera?.widthPx ?? null, camera?.angleDegrees ?? null],
  );
  return done.rowCount === 1;
}

export async function isProject(db: Db, id: string): Promise<boolean> {
  return (await db.query("SELECT FROM projects WHERE id = $1", [id])).rowCount === 1;
}

/** Gives collections or single materials to a project, or takes them from it. */
export async function changeProjectMembers(
  db: Db,
  what: "collections" | "materials",
  id: string,
  change: MemberChange,
): Promise<void> {
  await changeMembers(db, `project_${what}`, id, change);
  await settleRevisions(db, id);
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
  await overtaken(db, project);
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

/** Moves a project on to the newest revision of some of its materials, or to what they were merged into. */
export async function updateRevisions(db: Db, project: string, materials: string[]): Promise<void> {
  const merged = await rows(
    db,
    z.object({ material: z.string(), into: z.string() }),
    // What was merged into it was merged itself, perhaps.
    `WITH RECURSIVE way AS (
       SELECT id AS material, merged_into AS into FROM materials WHERE id = ANY ($2::uuid[]) AND merged_into IS NOT NULL
       UNION SELECT way.material, m.merged_into FROM way JOIN materials m ON m.id = way.into WHERE m.merged_into IS NOT NULL)
     SELECT way.material, way.into FROM way JOIN materials m ON m.id = way.into
      WHERE m.merged_into IS NULL AND m.deleted_at IS NULL
        AND EXISTS (SELECT FROM project_revisions r WHERE r.project = $1 AND r.material = way.material)`,
    [project, materials],
  );
  if (merged.length > 0)
    await changeProjectMembers(db, "materials", project, {
      add: merged.map(({ into }) => into),
      remove: merged.map(({ material }) => material),
    });
  await db.query(
    `UPDATE project_revisions pr SET revision = m.revision, before = pr.revision FROM materials m
      WHERE pr.project = $1 AND pr.material = ANY($2::uuid[]) AND m.id = pr.material AND m.revision <> pr.revision`,
    [project, materials],
  );
  await overtaken(db, project);
}

/** Takes a project back to the revision that it had of a material before it moved on. @returns whether there is one */
export async function restoreRevisionTaken(db: Db, project: string, material: string): Promise<boolean> {
  const done = await db.query(
    `UPDATE project_revisions SET revision = before, before = revision
      WHERE project = $1 AND material = $2 AND before IS NOT NULL`,
    [project, material],
  );
  await overtaken(db, project);
  return done.rowCount === 1;
}
