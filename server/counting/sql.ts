import { z } from "zod";
import { oneRow, type Db } from "#server/db/database";
import type { CountedModules } from "#server/pixels/countModules";

/** What was counted in a picture; undefined where nobody has asked yet. */
export async function findModuleCount(
  db: Db,
  base: string,
  height: string,
): Promise<CountedModules | undefined> {
  const row = await oneRow(
    db,
    // Written by ourselves and read by nobody else.
    z.object({ found: z.custom<CountedModules>() }),
    "SELECT found FROM module_counts WHERE base = $1 AND height = $2",
    [base, height],
  );
  return row?.found;
}

export async function keepModuleCount(
  db: Db,
  base: string,
  height: string,
  found: CountedModules,
): Promise<void> {
  await db.query(
    "INSERT INTO module_counts (base, height, found) VALUES ($1, $2, $3) ON CONFLICT (base, height) DO NOTHING",
    [base, height, JSON.stringify(found)],
  );
}
