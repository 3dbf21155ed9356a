import { z } from "zod";
import { readLibrarySearch, type LibrarySearch } from "#core/library/librarySearch";
import { type Db, oneRow, rows } from "#server/db/database";

export const collectionSchema = z.object({
  id: z.string(),
  name: z.string(),
  parent: z.string().nullable(),
  /** What it fills itself with; null where that is done by hand. */
  search: z
    .record(z.string(), z.string())
    .transform((filter): LibrarySearch => readLibrarySearch(Object.entries(filter)))
    .nullable(),
  materials: z.array(z.string()),
  projects: z.array(z.object({ id: z.string(), name: z.string() })),
});

export type CollectionRow = z.infer<typeof collectionSchema>;

const COLLECTION = `
  SELECT c.id, c.name, c.parent, c.filter AS search,
    ARRAY(SELECT material::text FROM collection_materials cm JOIN materials m ON m.id = cm.material AND m.deleted_at IS NULL
      WHERE cm.collection = c.id ORDER BY lower(m.name)) AS materials,
    COALESCE((SELECT jsonb_agg(jsonb_build_object('id', p.id, 'name', p.name) ORDER BY p.name)
      FROM project_collections pc JOIN projects p ON p.id = pc.project WHERE pc.collection = c.id), '[]') AS projects
  FROM collections c`;

export const findCollection = (db: Db, id: string) =>
  oneRow(db, collectionSchema, `${COLLECTION} WHERE c.id = $1`, [id]);

/** Names and places alone, for choosing. */
export const listCollectionNames = (db: Db) =>
  rows(
    db,
    collectionSchema.pick({ id: true, name: true, parent: true }),
    "SELECT id, name, parent FROM collections ORDER BY lower(name)",
  );

export const listCollections = (db: Db) => rows(db, collectionSchema, `${COLLECTION} ORDER BY lower(c.name)`);

/** A collection as a list shows it: how many materials are directly in it, and who shares it. */
export const collectionSummarySchema = collectionSchema
  .pick({ id: true, name: true, parent: true, search: true, projects: true })
  .extend({ count: z.number() });

export type CollectionSummary = z.infer<typeof collectionSummarySchema>;

/** What was deleted is counted apart: it is little, and so no living material is looked at. */
const SUMMARY = `
  SELECT c.id, c.name, c.parent, c.filter AS search,
    (SELECT count(*)::int FROM collection_materials WHERE collection = c.id)
      - (SELECT count(*)::int FROM materials m JOIN collection_materials cm ON cm.material = m.id
          WHERE m.deleted_at IS NOT NULL AND cm.collection = c.id) AS count,
    COALESCE((SELECT jsonb_agg(jsonb_build_object('id', p.id, 'name', p.name) ORDER BY p.name)
      FROM project_collections pc JOIN projects p ON p.id = pc.project WHERE pc.collection = c.id), '[]') AS projects
  FROM collections c`;

export const listCollectionSummaries = (db: Db): Promise<CollectionSummary[]> =>
  rows(db, collectionSummarySchema, `${SUMMARY} ORDER BY lower(c.name)`);

/** One collection, and those that lie in it. */
export async function findCollectionPlace(db: Db, id: string) {
  const found = await rows(
    db,
    collectionSummarySchema,
    `${SUMMARY} WHERE c.id = $1 OR c.parent = $1 ORDER BY lower(c.name)`,
    [id],
  );
  return { collection: found.find((one) => one.id === id), inside: found.filter((one) => one.id !== id) };
}
