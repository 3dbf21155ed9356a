import type { Db } from "#server/db/database";
import { type MemberChange, changeMembers } from "#server/db/members";
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
