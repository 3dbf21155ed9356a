import { z } from "zod";
import { findCollection } from "#server/collection/queries";
import { type Db, oneRow, violates } from "#server/db/database";
import { badField, conflict } from "#server/problem";

export async function insertCollection(
  db: Db,
  collection: { name: string; parent: string | null; person: string },
): Promise<string> {
  if (collection.parent && !(await findCollection(db, collection.parent)))
    throw badField("/parent", "There is no such collection to put it into.");
  try {
    const row = await oneRow(
      db,
      z.object({ id: z.string() }),
      "INSERT INTO collections (name, parent, created_by) VALUES ($1, $2, $3) RETURNING id",
      [collection.name, collection.parent, collection.person],
    );
    return row!.id;
  } catch (error) {
    if (violates(error, "collections_name"))
      throw conflict(`There is a collection “${collection.name}” already. Choose another name.`, "/name");
    throw error;
  }
}

/** The collection of a name inside another, made where there is none yet. */
export async function findOrInsertCollection(
  db: Db,
  collection: { name: string; parent: string | null; person: string },
): Promise<string> {
  const row = await oneRow(
    db,
    z.object({ id: z.string() }),
    `INSERT INTO collections (name, parent, created_by) VALUES ($1, $2, $3)
     ON CONFLICT ON CONSTRAINT collections_name DO UPDATE SET name = excluded.name RETURNING id`,
    [collection.name, collection.parent, collection.person],
  );
  return row!.id;
}

/** Moves come one after the other: the same lock that the trigger takes, but before any row is held, so that none waits for another in a ring. */
const holdPlaces = (db: Db) => db.query("SELECT pg_advisory_xact_lock(hashtext('ring of collections'))");

/** Renames a collection, or moves it into another, or out of all of them. @returns whether there is one */
export async function updateCollection(
  db: Db,
  id: string,
  { name, parent }: { name?: string; parent?: string | null },
): Promise<boolean> {
  if (parent !== undefined) await holdPlaces(db);
  if (parent && !(await findCollection(db, parent)))
    throw badField("/parent", "There is no such collection to put it into.");
  try {
    const done = await db.query(
      "UPDATE collections SET name = COALESCE($2, name), parent = CASE WHEN $3 THEN $4 ELSE parent END WHERE id = $1",
      [id, name ?? null, parent !== undefined, parent ?? null],
    );
    return done.rowCount === 1;
  } catch (error) {
    if (violates(error, "collections_name"))
      throw conflict(`There is a collection of that name there already. Choose another name.`, "/name");
    if (violates(error, "collections_no_ring"))
      throw badField("/parent", "A collection cannot be put into itself, or into one that is inside it.");
    throw error;
  }
}

/** Deletes a collection; those inside it move up to where it was. @returns whether there was one */
export async function deleteCollection(db: Db, id: string): Promise<boolean> {
  await holdPlaces(db);
  try {
    await db.query(
      "UPDATE collections SET parent = (SELECT parent FROM collections WHERE id = $1) WHERE parent = $1",
      [id],
    );
  } catch (error) {
    if (violates(error, "collections_name"))
      throw conflict(
        "A collection inside it has the name of one beside it. Rename or delete that one first.",
      );
    throw error;
  }
  return (await db.query("DELETE FROM collections WHERE id = $1", [id])).rowCount === 1;
}
