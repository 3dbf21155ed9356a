import { z } from "zod";
import { type Db, oneRow, rows } from "#server/db/database";
import { checkedLinkSchema, LINK_STATES, type CheckedLink, type LinkState } from "#server/links/checkLinks";

export const linkListSchema = z.object({
  id: z.string(),
  name: z.string(),
  state: z.enum(["reading", "done", "failed"]),
  failure: z.string().nullable(),
  found: z.number().int(),
  lookedAt: z.number().int(),
  leftOut: z.number().int(),
  /** How many paths are of each state. */
  counts: z.partialRecord(z.enum(LINK_STATES), z.number().int()),
  /** The first paths of each state. */
  first: z.array(checkedLinkSchema),
  /** Hash of the table of all of them: old path, state, destination, new path. */
  result: z.string().nullable(),
  madeBy: z.string(),
  madeAt: z.coerce.date(),
});
export type LinkListRow = z.infer<typeof linkListSchema>;

const LIST = `SELECT l.id, l.name, l.state, l.failure, l.found, l.looked_at AS "lookedAt", l.left_out AS "leftOut", l.counts, l.first,
    l.result, p.name AS "madeBy", l.made_at AS "madeAt" FROM link_lists l JOIN people p ON p.id = l.made_by`;

/** More are not kept: the oldest goes. */
const MOST_LISTS = 50;

export const listLinkLists = (db: Db): Promise<LinkListRow[]> =>
  rows(db, linkListSchema, `${LIST} ORDER BY l.made_at DESC, l.id`);

export const findLinkList = (db: Db, id: string): Promise<LinkListRow | undefined> =>
  oneRow(db, linkListSchema, `${LIST} WHERE l.id = $1`, [id]);

export async function fileOfLinkList(db: Db, id: string): Promise<string | undefined> {
  const row = await oneRow(db, z.object({ file: z.string() }), "SELECT file FROM link_lists WHERE id = $1", [
    id,
  ]);
  return row?.file;
}

export async function insertLinkList(
  db: Db,
  list: { name: string; sha256: string; bytes: number; person: string },
): Promise<string> {
  const row = await oneRow(
    db,
    z.object({ id: z.string() }),
    "INSERT INTO link_lists (name, file, bytes, made_by) VALUES ($1, $2, $3, $4) RETURNING id",
    [list.name, list.sha256, list.bytes, list.person],
  );
  // Those of today are counted against what one person may hand in, and stay.
  await db.query(
    `DELETE FROM link_lists WHERE made_at < now() - interval '1 day' AND state <> 'reading'
       AND id NOT IN (SELECT id FROM link_lists ORDER BY made_at DESC LIMIT $1)`,
    [MOST_LISTS],
  );
  return row!.id;
}

export async function noteLinks(
  db: Db,
  id: string,
  { found, lookedAt, leftOut }: { found: number; lookedAt: number; leftOut: number },
): Promise<void> {
  await db.query("UPDATE link_lists SET found = $2, looked_at = $3, left_out = $4 WHERE id = $1", [
    id,
    found,
    lookedAt,
    leftOut,
  ]);
}

export async function setLinks(
  db: Db,
  id: string,
  {
    counts,
    first,
    result,
  }: { counts: Partial<Record<LinkState, number>>; first: CheckedLink[]; result: string },
): Promise<void> {
  await db.query(
    "UPDATE link_lists SET counts = $2, first = $3, result = $4, looked_at = found, state = 'done' WHERE id = $1 AND state = 'reading'",
    [id, JSON.stringify(counts), JSON.stringify(first), result],
  );
}

export async function failLinkList(db: Db, id: string, failure: string): Promise<void> {
  await db.query("UPDATE link_lists SET state = 'failed', failure = $2 WHERE id = $1 AND state = 'reading'", [
    id,
    failure,
  ]);
}

export async function deleteLinkList(db: Db, id: string): Promise<boolean> {
  return (await db.query("DELETE FROM link_lists WHERE id = $1", [id])).rowCount === 1;
}
