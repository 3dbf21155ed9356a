import { z } from "zod";
import { proposedFamily } from "#core/library/familyWords";
import { database, type Db, rows } from "#server/db/database";
import { addJob } from "#server/jobs/queue";

/** So many at once. */
const MOST = 1000;

const waitingSchema = z.object({ id: z.string(), name: z.string(), sheet: z.string().nullable() });

/** Proposes the family of materials that were saved before anybody asked for one. @returns how many there were */
async function proposeMissingFamilies(db: Db): Promise<number> {
  const waiting = await rows(
    db,
    waitingSchema,
    `SELECT m.id, m.name, s.sheet->'line'->>'family' AS sheet FROM materials m JOIN sources s ON s.id = m.source
      WHERE m.family_from IS NULL ORDER BY m.id LIMIT ${MOST}`,
  );
  const proposed = waiting.map(({ id, name, sheet }) => {
    const found = proposedFamily({ name, ...(sheet !== null && { sheet }) });
    return { id, family: found?.family ?? null, from: found?.from ?? "nothing" };
  });
  await db.query(
    `UPDATE materials m SET family = p.family, family_from = p."from"
       FROM jsonb_to_recordset($1) AS p(id uuid, family text, "from" text)
      WHERE m.id = p.id AND m.family_from IS NULL`,
    [JSON.stringify(proposed)],
  );
  return waiting.length;
}

/** Asks for it where there is anything to propose. */
export async function askForFamilies(db: Db): Promise<void> {
  const waiting = await db.query("SELECT FROM materials WHERE family_from IS NULL LIMIT 1");
  if (waiting.rowCount !== 0) await addJob(db, "propose-families", { turn: "0" });
}

/** Sees to so many of them, and asks for the rest. */
export async function proposeNextFamilies(turn: string): Promise<void> {
  if ((await proposeMissingFamilies(database())) === MOST)
    await addJob(database(), "propose-families", { turn: String(Number(turn) + 1) });
}
