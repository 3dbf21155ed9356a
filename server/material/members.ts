/** SQL for the ids of the materials of some collections and of those inside them; `roots` is SQL for the collections' ids. */
function nestedMaterialIds(roots: string): string {
  return `SELECT cm.material FROM collection_materials cm WHERE cm.collection IN (
      WITH RECURSIVE inside AS (
        ${roots}
        UNION SELECT c.id FROM collections c JOIN inside ON c.parent = inside.id)
      SELECT id FROM inside)`;
}

/** SQL for the ids of all materials of a collection, with those of the collections inside it. */
export const collectionMaterialIds = (collection: string) =>
  nestedMaterialIds(`SELECT ${collection}::uuid AS id`);

/** SQL for the ids of all materials of a project, taken singly or through its collections and those inside them. */
export function projectMaterialIds(project: string): string {
  return `SELECT material FROM project_materials WHERE project = ${project}
    UNION ${nestedMaterialIds(`SELECT collection AS id FROM project_collections WHERE project = ${project}`)}`;
}
