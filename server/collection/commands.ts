import type { Person } from "#server/auth/person";
import { changeCollectionMaterials, mustBeByHand } from "#server/collection/members";
import { deleteCollection, insertCollection, updateCollection } from "#server/collection/writes";
import { inTransaction } from "#server/db/database";
import type { MemberChange } from "#server/db/members";
import { announce } from "#server/events/events";
import { notFound } from "#server/problem";
import { projectsTaking, settleRevisions } from "#server/project/writes";

/** @returns its id. @throws {Problem} where the name is taken there, or there is no such place */
export async function createCollection(
  { name, parent = null }: { name: string; parent?: string | null },
  person: Person,
): Promise<string> {
  return inTransaction(async (db) => {
    const id = await insertCollection(db, { name, parent, person: person.id });
    await announce(db, { topic: "library", id });
    return id;
  });
}

/**
 * Renames a collection, or moves it: the projects that lose or gain its materials by that are settled.
 * @throws {Problem} where the name is taken, or it would be inside itself
 */
export async function changeCollection(
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

/** Puts materials into a collection and takes others out. @throws {Problem} naming the first id that there is nothing of */
export async function changeCollectionMembers(id: string, change: MemberChange): Promise<void> {
  await inTransaction(async (db) => {
    await mustBeByHand(db, id);
    await changeCollectionMaterials(db, id, change);
    await announce(db, { topic: "library", id });
  });
}

/** Makes a collection of materials: both or nothing. @returns its id */
export async function createCollectionOf(name: string, materials: string[], person: Person): Promise<string> {
  return inTransaction(async (db) => {
    const id = await insertCollection(db, { name, parent: null, person: person.id });
    await changeCollectionMaterials(db, id, { add: materials, remove: [] });
    await announce(db, { topic: "library", id });
    return id;
  });
}
