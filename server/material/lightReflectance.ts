import { z } from "zod";
import { finishSchema, type Finish } from "#core/finish/finish";
import { withAlpha } from "#core/finish/colorShares";
import { lightReflectance } from "#core/finish/lightReflectance";
import type { MapChannel } from "#core/roles/channel";
import type { Role } from "#core/roles/roles";
import { type Db, rows } from "#server/db/database";
import { findColors } from "#server/images/queries";

/** Of a new revision; null where it has no colour, or its picture's colours have not been read. */
export async function reflectanceOf(
  db: Db,
  finish: Finish,
  maps: readonly { role: Role; channel: MapChannel; sha256: string }[],
): Promise<number | null> {
  const base = maps.find(({ role, channel }) => role === "base_color" && channel === "color");
  if (!base) return lightReflectance(finish) ?? null;
  const colors = await findColors(db, base.sha256);
  return colors ? (lightReflectance(finish, withAlpha(colors)) ?? null) : null;
}

const waitingSchema = z.object({
  material: z.string(),
  number: z.number(),
  finish: finishSchema,
  sha256: z.string().nullable(),
});

/** So many at once. */
const MOST = 500;

/** Says it of current revisions that were saved before anybody read their colours. @returns how many there were */
export async function reflectMissing(db: Db): Promise<number> {
  const waiting = await rows(
    db,
    waitingSchema,
    `SELECT r.material, r.number, r.finish, a.sha256 FROM materials m
       JOIN revisions r ON r.material = m.id AND r.number = m.revision
       LEFT JOIN maps a ON a.material = m.id AND a.revision = m.revision AND a.role = 'base_color' AND a.channel = 'color'
      WHERE m.light_reflectance IS NULL AND m.deleted_at IS NULL
        AND (EXISTS (SELECT FROM picture_colors c WHERE c.sha256 = a.sha256) OR (a.sha256 IS NULL AND r.finish ? 'color'))
        AND COALESCE((r.finish->>'transmissionWeight')::float8, 0) < 0.5
      ORDER BY m.id LIMIT ${MOST}`,
  );
  for (const { material, number, finish, sha256 } of waiting) {
    const maps = sha256 === null ? [] : [{ role: "base_color" as const, channel: "color" as const, sha256 }];
    await db.query("UPDATE revisions SET light_reflectance = $3 WHERE material = $1 AND number = $2", [
      material,
      number,
      await reflectanceOf(db, finish, maps),
    ]);
  }
  return waiting.length;
}
