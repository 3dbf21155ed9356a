import { z } from "zod";
import type { FlattenRecipe, FlattenFigures } from "#core/photo/recipe";
import { type Db, oneRow } from "#server/db/database";

export async function insertFlattening(
  db: Db,
  flattening: { photo: string; revision: number; recipe: FlattenRecipe; person: string },
): Promise<string> {
  const row = await oneRow(
    db,
    z.object({ id: z.string() }),
    "INSERT INTO flattenings (photo, photo_revision, recipe, person) VALUES ($1, $2, $3, $4) RETURNING id",
    [flattening.photo, flattening.revision, JSON.stringify(flattening.recipe), flattening.person],
  );
  return row!.id;
}

export async function setFlatteningShare(db: Db, id: string, share: number): Promise<void> {
  await db.query("UPDATE flattenings SET share = $2 WHERE id = $1 AND ended_at IS NULL", [id, share]);
}

/** @returns whether this call ended it, and not another before */
export async function endFlattening(
  db: Db,
  id: string,
  end: { made: string; figures: FlattenFigures } | { failure: string },
): Promise<boolean> {
  const done = "made" in end;
  const ended = await db.query(
    "UPDATE flattenings SET made = $2, figures = $3, failure = $4, ended_at = now() WHERE id = $1 AND ended_at IS NULL",
    [id, done ? end.made : null, done ? JSON.stringify(end.figures) : null, done ? null : end.failure],
  );
  return ended.rowCount === 1;
}
