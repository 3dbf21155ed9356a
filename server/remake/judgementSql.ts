import { z } from "zod";
import type { Finding } from "#core/findings/finding";
import { PURPOSES, type Purpose } from "#core/judge/holdsUp";
import { oneRow, type Db } from "#server/db/database";
import { plainJson } from "#core/text/plainText";

/** From how far a material is seen, as its intake was told. */
export async function purposeOf(db: Db, material: string): Promise<Purpose> {
  const row = await oneRow(
    db,
    z.object({ purpose: z.enum(PURPOSES) }),
    "SELECT i.purpose FROM materials m JOIN sources s ON s.id = m.source JOIN intakes i ON i.id = s.intake WHERE m.id = $1",
    [material],
  );
  return row?.purpose ?? "near";
}

export async function replaceFindings(
  db: Db,
  material: string,
  revision: number,
  findings: Finding[],
): Promise<void> {
  await db.query("UPDATE revisions SET findings = $3 WHERE material = $1 AND number = $2", [
    material,
    revision,
    JSON.stringify(plainJson(findings)),
  ]);
}
