import { z } from "zod";
import { rows, type Db } from "#server/db/database";
import { badField, notFound } from "#server/problem";

/** Ids to put in and to take out. */
export interface MemberChange {
  add: string[];
  remove: string[];
}

/** The tables that say what belongs to what: their columns, and what may be added. */
const TABLES = {
  collection_materials: {
    owner: "collection",
    member: "material",
    living: "materials WHERE deleted_at IS NULL",
  },
  project_materials: { owner: "project", member: "material", living: "materials WHERE deleted_at IS NULL" },
  project_collections: { owner: "project", member: "collection", living: "collections WHERE true" },
} as const;

/**
 * Puts members in and takes members out; one that is there already, or not there, does no harm.
 * @throws {Problem} where there is no such owner; naming the first id that there is nothing of.
 */
export async function changeMembers(
  db: Db,
  table: keyof typeof TABLES,
  id: string,
  { add, remove }: MemberChange,
): Promise<void> {
  const { owner, member, living } = TABLES[table];
  const owners = await db.query(`SELECT FROM ${owner}s WHERE id = $1`, [id]);
  if (owners.rowCount === 0) throw notFound(owner);
  const known = await rows(
    db,
    z.object({ id: z.string() }),
    `SELECT id FROM ${living} AND id = ANY($1::uuid[])`,
    [add],
  );
  const missing = add.findIndex((wanted) => !known.some((row) => row.id === wanted));
  if (missing !== -1)
    throw badField(`/add/${missing}`, `There is no ${member} with the id “${add[missing]}”.`);
  await db.query(
    `INSERT INTO ${table} (${owner}, ${member}) SELECT $1, unnest($2::uuid[]) ON CONFLICT DO NOTHING`,
    [id, add],
  );
  await db.query(`DELETE FROM ${table} WHERE ${owner} = $1 AND ${member} = ANY($2::uuid[])`, [id, remove]);
}
