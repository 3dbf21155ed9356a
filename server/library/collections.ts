import { deleteCollection, updateCollection } from "#server/db/collections";
import { inTransaction } from "#server/db/database";
import { projectsTaking, settleRevisions } from "#server/db/projects";
import { announce } from "#server/events/events";
import { notFound } from "#server/problem";

/**
 * Renames a collection, or moves it: the projects that lose or gain its materials by that are settled.
 * @throws {Problem} where the name is taken, or it would be inside itself
 */
export async function changeCollectionFields(
  id: string,
  change: { name?: string; parent?: string | null },
): Promise<void> {
  await inTransaction(async (db) => {
    const before = await projectsTaking(db, id);
    if (!(await updateCollection(db, id, change))) throw notFound("collection");
    if (change.parent !== undefined)
      for (const project of new Set([...before, ...(await projectsTaking(db, id))]))
        await settleRevisions(db, project);
    await announce(db, { topic: "library", id });
  });
}

/** Deletes a collection; its materials stay in the library, and projects that took them by it lose them. */
export async function removeCollection(id: string): Promise<void> {
  await inTransaction(async (db) => {
    const before = await projectsTaking(db, id);
    if (!(await deleteCollection(db, id))) throw notFound("collection");
    for (const project of before) await settleRevisions(db, project);
    await announce(db, { topic: "library", id });
  });
}
