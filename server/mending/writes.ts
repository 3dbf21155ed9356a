import { z } from "zod";
import type { MendRecipe } from "#core/mend/recipe";
import { type Db, oneRow, violates } from "#server/db/database";
import type { MendProposal, MendFigures } from "#server/mending/queries";
import { conflict } from "#server/problem";

export async function insertMend(
  db: Db,
  mend: { material: string; revision: number; recipe: MendRecipe; person: string; lookFirst: boolean },
): Promise<string> {
  // What was looked at and left lying makes room for the next.
  await db.query(
    "UPDATE mends SET failure = $2, ended_at = now() WHERE material = $1 AND proposal IS NOT NULL AND ended_at IS NULL",
    [mend.material, NOT_KEPT],
  );
  try {
    const row = await oneRow(
      db,
      z.object({ id: z.string() }),
      "INSERT INTO mends (material, from_revision, recipe, person, look_first) VALUES ($1, $2, $3, $4, $5) RETURNING id",
      [mend.material, mend.revision, JSON.stringify(mend.recipe), mend.person, mend.lookFirst],
    );
    return row!.id;
  } catch (error) {
    if (violates(error, "mends_running"))
      throw conflict("This material is being mended already. Wait until that is done.");
    throw error;
  }
}

export const NOT_KEPT = "It was looked at, and not kept.";

/** Holds what a mend came to, to be looked at. */
export async function proposeMend(db: Db, id: string, proposal: MendProposal): Promise<void> {
  await db.query("UPDATE mends SET proposal = $2 WHERE id = $1 AND ended_at IS NULL", [
    id,
    JSON.stringify(proposal),
  ]);
}

export async function endMend(
  db: Db,
  id: string,
  end: { toRevision: number; figures: MendFigures } | { failure: string },
): Promise<void> {
  const done = "toRevision" in end;
  await db.query(
    "UPDATE mends SET to_revision = $2, figures = $3, failure = $4, ended_at = now() WHERE id = $1 AND ended_at IS NULL",
    [id, done ? end.toRevision : null, done ? JSON.stringify(end.figures) : null, done ? null : end.failure],
  );
}
