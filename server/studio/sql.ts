import { z } from "zod";
import { oneRow, type Db } from "#server/db/database";

/** What the studio has settled once for all its people. */
export async function readStudio(db: Db): Promise<{ nameRule: string | null }> {
  const row = await oneRow(
    db,
    z.object({ nameRule: z.string().nullable() }),
    'SELECT name_rule AS "nameRule" FROM studio',
  );
  return row!;
}

/** Keeps the rule by which materials are named; null forgets it. */
export async function keepNameRule(db: Db, rule: string | null): Promise<void> {
  await db.query("UPDATE studio SET name_rule = $1", [rule]);
}
