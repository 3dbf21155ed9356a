import { z } from "zod";
import type { Family } from "#core/finish/family";
import type { Finish } from "#core/finish/finish";
import { MAP_CHANNELS } from "#core/roles/channel";
import { ROLES } from "#core/roles/roles";
import { familyByLook } from "#server/material/familyByLook";
import { familyByMaps } from "#server/material/writes";
import { proposedFamily } from "#core/library/familyWords";
import { database, type Db, rows } from "#server/db/database";
import { addJob } from "#server/jobs/queue";

/** So many at once. */
const MOST = 1000;

const waitingSchema = z.object({
  id: z.string(),
  name: z.string(),
  sheet: z.string().nullable(),
  maps: z.array(z.object({ sha256: z.string(), channel: z.enum(MAP_CHANNELS), role: z.enum(ROLES) })),
  finish: z.custom<Finish>(),
});

/** Proposes the family of materials of which it was not asked yet, or is again. @returns how many there were */
async function proposeMissingFamilies(db: Db): Promise<number> {
  const waiting = await rows(
    db,
    waitingSchema,
    `SELECT m.id, m.name, s.sheet->'line'->>'family' AS sheet, r.finish,
       (SELECT COALESCE(jsonb_agg(jsonb_build_object('sha256', a.sha256, 'channel', a.channel, 'role', a.role)), '[]')
          FROM maps a WHERE a.material = m.id AND a.revision = m.revision AND a.role IN ('base_color', 'base_metalness')) AS maps
     FROM materials m JOIN sources s ON s.id = m.source JOIN revisions r ON r.material = m.id AND r.number = m.revision
      WHERE m.family_from IS NULL ORDER BY m.id LIMIT ${MOST}`,
  );
  const proposed: { id: string; family: Family | null; from: string }[] = [];
  for (const { id, name, sheet, maps, finish } of waiting) {
    const found =
      proposedFamily({ name, ...(sheet !== null && { sheet }) }) ??
      (await familyByMaps(db, { maps, finish })) ??
      (await familyByLook(db, maps.find(({ role }) => role === "base_color")?.sha256));
    proposed.push({ id, family: found?.family ?? null, from: found?.from ?? "nothing" });
  }
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
