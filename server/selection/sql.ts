import { z } from "zod";
import { type Db, oneRow } from "#server/db/database";

/** Keeps what somebody has selected for a day. @returns its id */
export async function keepSelection(db: Db, materials: string[], person: string): Promise<string> {
  await db.query("DELETE FROM selections WHERE made_at < now() - interval '1 day'");
  const row = await oneRow(
    db,
    z.object({ id: z.string() }),
    "INSERT INTO selections (materials, made_by) VALUES ($1, $2) RETURNING id",
    [materials, person],
  );
  return row!.id;
}

/** What was selected; nothing where that is longer ago than a day. */
export async function findSelection(db: Db, id: string): Promise<string[]> {
  const row = await oneRow(
    db,
    z.object({ materials: z.array(z.string()) }),
    "SELECT materials::text[] AS materials FROM selections WHERE id = $1",
    [id],
  );
  return row?.materials ?? [];
}
