import { z } from "zod";
import { FAMILIES, type Family } from "#core/finish/family";
import { type Db, oneRow } from "#server/db/database";
import { addJob } from "#server/jobs/queue";

/** Pictures that are nearer than this show one kind of thing: of 789 textures that their names put in a family, 212 of 214 that had one so near. */
const ONE_LOOK = 5;
/** So many of the nearest pictures are looked at. */
const NEAREST = 24;

/** Live materials `m` by the base color maps `near.sha256` that look like a picture. @param picture the SQL of its hash */
const alikeTo = (picture: string) => `picture_figures own
      CROSS JOIN LATERAL (SELECT f.sha256, f.figures <-> own.figures AS far FROM picture_figures f
        ORDER BY f.figures <-> own.figures LIMIT ${NEAREST}) near
      JOIN maps a ON a.sha256 = near.sha256 AND a.role = 'base_color'
      JOIN materials m ON m.id = a.material AND m.revision = a.revision AND m.deleted_at IS NULL AND m.merged_into IS NULL
     WHERE own.sha256 = ${picture} AND near.far < ${ONE_LOOK}`;

/** The family of all that look like a base color map, where they are of one, and something else than a look said so. */
export async function familyByLook(
  db: Db,
  sha256: string | undefined,
): Promise<{ family: Family; from: "look" } | undefined> {
  if (sha256 === undefined) return undefined;
  const { families } = (await oneRow(
    db,
    z.object({ families: z.array(z.enum(FAMILIES)) }),
    `SELECT COALESCE(array_agg(DISTINCT m.family), '{}') AS families FROM ${alikeTo("$1")}
        AND m.family IS NOT NULL AND m.family_from <> 'look'`,
    [sha256],
  ))!;
  return families.length === 1 ? { family: families[0], from: "look" } : undefined;
}

const OWN_PICTURE =
  "(SELECT b.sha256 FROM maps b JOIN materials o ON o.id = b.material AND o.revision = b.revision WHERE o.id = $1 AND b.role = 'base_color')";

/** Asks again for the family of what looks like a material whose family somebody has just said, and has none by any other sign. */
export async function askAlikeForFamily(db: Db, material: string): Promise<void> {
  const asked = await db.query(
    // Two people may say it of two that are alike at once: what somebody else is changing is left to them.
    `UPDATE materials SET family = NULL, family_from = NULL WHERE id IN (SELECT m.id FROM ${alikeTo(OWN_PICTURE)}
        AND m.family_from IN ('nothing', 'look') AND m.id <> $1 FOR UPDATE OF m SKIP LOCKED)`,
    [material],
  );
  if (asked.rowCount !== 0) await addJob(db, "propose-families", { turn: "0" });
}
