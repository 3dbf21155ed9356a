import { z } from "zod";
import { readLibrarySearch, searchParams, type LibrarySearch } from "#core/library/librarySearch";
import type { Person } from "#server/auth/person";
import { changeCollectionMaterials } from "#server/collection/members";
import { insertCollection } from "#server/collection/writes";
import { database, inTransaction, oneRow, rows, type Db } from "#server/db/database";
import { announce } from "#server/events/events";
import { listSampleIds } from "#server/material/samples";
import { badField, notFound } from "#server/problem";

/** More than these are not put into one collection. */
const MOST = 20_000;

/**
 * Makes a collection that fills itself with all that a search finds, now and whenever the library changes.
 * @returns its id. @throws {Problem} where the search shows everything, or the name is taken
 */
export function createFilledCollection(
  { name, parent = null, search }: { name: string; parent?: string | null; search: LibrarySearch },
  person: Pick<Person, "id">,
): Promise<string> {
  const { sort: _, ...filter } = search;
  if (searchParams(filter).length === 0)
    throw badField("/search", "This search shows everything. Say first what it is to show.");
  return inTransaction(async (db) => {
    const id = await insertCollection(db, { name, parent, person: person.id });
    await db.query("UPDATE collections SET filter = $2 WHERE id = $1", [
      id,
      JSON.stringify(Object.fromEntries(searchParams(filter))),
    ]);
    await fill(db, { id, filter: Object.fromEntries(searchParams(filter)) });
    await announce(db, { topic: "library", id });
    return id;
  });
}

/** What is in it stays, and is changed by hand from now on. @throws {Problem} where there is no such collection */
export async function stopFilling(id: string): Promise<void> {
  const done = await database().query("UPDATE collections SET filter = NULL WHERE id = $1", [id]);
  if (done.rowCount !== 1) throw notFound("collection");
  await announce(database(), { topic: "library", id });
}

const filledSchema = z.object({ id: z.string(), filter: z.record(z.string(), z.string()) });

/** Brings all collections that fill themselves up to what their searches find, each on its own. */
export async function fillCollections(): Promise<void> {
  const filled = await rows(
    database(),
    filledSchema,
    "SELECT id, filter FROM collections WHERE filter IS NOT NULL ORDER BY id",
    [],
  );
  for (const { id } of filled)
    await inTransaction(async (db) => {
      // It may have been stopped, or deleted, since.
      const now = await oneRow(
        db,
        filledSchema,
        "SELECT id, filter FROM collections WHERE id = $1 AND filter IS NOT NULL FOR UPDATE",
        [id],
      );
      if (now && (await fill(db, now))) await announce(db, { topic: "library", id });
    });
}

/** @returns whether anything came or went */
async function fill(db: Db, { id, filter }: z.infer<typeof filledSchema>): Promise<boolean> {
  const found = new Set(await listSampleIds(db, readLibrarySearch(Object.entries(filter)), MOST));
  const members = await rows(
    db,
    z.object({ material: z.string() }),
    "SELECT material FROM collection_materials WHERE collection = $1",
    [id],
  );
  const there = new Set(members.map(({ material }) => material));
  const add = [...found].filter((material) => !there.has(material));
  const remove = [...there].filter((material) => !found.has(material));
  if (add.length + remove.length === 0) return false;
  await changeCollectionMaterials(db, id, { add, remove });
  return true;
}
