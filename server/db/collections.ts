import { z } from "zod";
import { oneRow, rows, violates, type Db } from "#server/db/database";
import { badField, conflict } from "#server/problem";

export const collectionSchema = z.object({
  id: z.string(),
  name: z.string(),
  parent: z.string().nullable(),
  materials: z.array(z.string()),
  projects: z.array(z.object({ id: z.string(), name: z.string() })),
});
export type CollectionRow = z.infer<typeof collectionSchema>;

const COLLECTION = `
  SELECT c.id, c.name, c.parent,
    ARRAY(SELECT material::text FROM collection_materials cm JOIN materials m ON m.id = cm.material AND m.deleted_at IS NULL
      WHERE cm.collection = c.id ORDER BY lower(m.name)) AS materials,
    COALESCE((SELECT jsonb_agg(jsonb_build_object('id', p.id, 'name', p.name) ORDER BY p.name)
      FROM project_collections pc JOIN projects p ON p.id = pc.project WHERE pc.collection = c.id), '[]') AS projects
  FROM collections c`;

export const findCollection = (db: Db, id: string) =>
  oneRow(db, collectionSchema, `${COLLECTION} WHERE c.id = $1`, [id]);

export const listCollections = (db: Db) => rows(db, collectionSchema, `${COLLECTION} ORDER BY lower(c.name)`);

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

export async function deleteCollection(db: Db, id: string): Promise<void> {
  await db.query(
    "UPDATE collections SET parent = (SELECT parent FROM collections WHERE id = $1) WHERE parent = $1",
    [id],
  );
  await db.query("DELETE FROM collections WHERE id = $1", [id]);
}

export async function changeCollectionMaterials(
  db: Db,
  id: string,
  change: { add: string[]; remove: string[] },
): Promise<void> {
  await checkMaterials(db, change.add);
  await db.query(
    "INSERT INTO collection_materials (collection, material) SELECT $1, unnest($2::uuid[]) ON CONFLICT DO NOTHING",
    [id, change.add],
  );
  await db.query("DELETE FROM collection_materials WHERE collection = $1 AND material = ANY($2::uuid[])", [
    id,
    change.remove,
  ]);
}

/** @throws {Problem} naming the first id that is no material of the library. */
export async function checkMaterials(db: Db, ids: string[]): Promise<void> {
  const known = await rows(
    db,
    z.object({ id: z.string() }),
    "SELECT id FROM materials WHERE id = ANY($1::uuid[]) AND deleted_at IS NULL",
    [ids],
  );
  const missing = ids.find((id) => !known.some((row) => row.id === id));
  if (missing)
    throw badField(`/add/${ids.indexOf(missing)}`, `There is no material with the id “${missing}”.`);
}
