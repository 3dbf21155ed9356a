import { z } from "zod";
import type { Person } from "#server/auth/person";
import { type Db, inTransaction, rows } from "#server/db/database";
import { announce } from "#server/events/events";
import { badField, notFound } from "#server/problem";
import { overtaken } from "#server/jobs/overtaken";
import { isProject } from "#server/project/writes";

export const keptSchema = z.object({
  /** A destination that what the project takes was delivered to. */
  id: z.string(),
  name: z.string(),
  /** Whether it is delivered to again by itself. */
  isKept: z.boolean(),
  /** Why that did not go the last time. */
  failure: z.string().nullable(),
});
export type KeptDestination = z.infer<typeof keptSchema>;

/** Where a project was delivered to, with what is kept up to date there. */
export const listKept = (db: Db, project: string): Promise<KeptDestination[]> =>
  rows(
    db,
    keptSchema,
    `SELECT t.id, t.name, k.project IS NOT NULL AS "isKept", k.failure
       FROM destinations t LEFT JOIN kept_destinations k ON k.destination = t.id AND k.project = $1
      WHERE k.project IS NOT NULL
         OR EXISTS (SELECT FROM deliveries WHERE project = $1 AND destination = t.id AND state IN ('planned', 'running', 'done'))
      ORDER BY lower(t.name)`,
    [project],
  );

/**
 * Says which destinations a project keeps up to date by itself, in place of those before.
 * @throws {Problem} 404, or 422 for one to which it was never delivered: what is delivered again is what was
 */
export async function setKept(project: string, destinations: string[], person: Person): Promise<void> {
  await inTransaction(async (db) => {
    if (!(await isProject(db, project))) throw notFound("project");
    const known = await listKept(db, project);
    for (const [at, one] of destinations.entries())
      if (!known.some(({ id }) => id === one))
        throw badField(
          `/destinations/${at}`,
          "Deliver the project to this destination once: what is kept up to date there is what was delivered.",
        );
    await db.query("DELETE FROM kept_destinations WHERE project = $1 AND destination <> ALL ($2::uuid[])", [
      project,
      destinations,
    ]);
    await db.query(
      `INSERT INTO kept_destinations (project, destination, person)
       SELECT $1, unnest($2::uuid[]), $3 ON CONFLICT (project, destination) DO NOTHING`,
      [project, destinations, person.id],
    );
    await overtaken(db, project);
    await announce(db, { topic: "library", id: project });
  });
}

/** The projects that keep a destination up to date by themselves. */
export const listKeepingProjects = (db: Db, destination: string) =>
  rows(
    db,
    z.object({ id: z.string(), name: z.string() }),
    `SELECT p.id, p.name FROM kept_destinations k JOIN projects p ON p.id = k.project
      WHERE k.destination = $1 ORDER BY lower(p.name)`,
    [destination],
  );

const keeperSchema = z.object({ destination: z.string(), person: z.string() });

/** What a project keeps up to date, and in whose name. */
export const listKeepers = (db: Db, project: string) =>
  rows(db, keeperSchema, "SELECT destination, person FROM kept_destinations WHERE project = $1", [project]);

export async function noteKept(
  db: Db,
  project: string,
  destination: string,
  failure: string | null,
): Promise<void> {
  await db.query("UPDATE kept_destinations SET failure = $3 WHERE project = $1 AND destination = $2", [
    project,
    destination,
    failure,
  ]);
}
