import type { Db } from "#server/db/database";
import { addJob } from "#server/jobs/queue";

/** Has the collections that fill themselves looked through, where there are any. */
export async function fillLater(db: Db): Promise<void> {
  const { rowCount } = await db.query("SELECT FROM collections WHERE filter IS NOT NULL LIMIT 1");
  if (rowCount === 1) await addJob(db, "fill-collections", { turn: "library" });
}
