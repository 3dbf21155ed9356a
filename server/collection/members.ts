import { z } from "zod";
import { type Db, oneRow } from "#server/db/database";
import { type MemberChange, changeMembers } from "#server/db/members";
import { conflict } from "#server/problem";
import { projectsTaking, settleRevisions } from "#server/project/writes";

/** Puts materials into a collection or takes them out, for every project that shares it. */
export async function changeCollectionMaterials(db: Db, id: string, change: MemberChange): Promise<void> {
  await changeMembers(db, "collection_materials", id, change);
  await settleRevisionsOfCollection(db, id);
}

/** After a collection changed: the same for every project that takes it. */
async function settleRevisionsOfCollection(db: Db, collection: string): Promise<void> {
  for (const project of await projectsTaking(db, collection)) await settleRevisions(db, project);
}

/** Refuses to change by hand what fills itself. @throws {Problem} */
export async function mustBeByHand(db: Db, id: string): Promise<void> {
  const filled = await oneRow(
    db,
    z.object({ name: z.string() }),
    "SELECT name FROM collections WHERE id = $1 AND filter IS NOT NULL",
    [id],
  );
  if (filled)
    throw conflict(`“${filled.name}” fills itself by a search. Stop that first to change it by hand.`);
}
