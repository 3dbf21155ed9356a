import { z } from "zod";
import { type Db, oneRow } from "#server/db/database";

export const soughtSchema = z.object({
  id: z.string(),
  sha256: z.string(),
  name: z.string(),
  /** "reading" until the worker has found it to be a picture. */
  state: z.enum(["reading", "there", "failed"]),
  failure: z.string().nullable(),
});

/** A picture that somebody looks for the like of. */
export type SoughtRow = z.infer<typeof soughtSchema>;

export const findSought = (db: Db, id: string) =>
  oneRow(db, soughtSchema, "SELECT id, sha256, name, state, failure FROM sought_pictures WHERE id = $1", [
    id,
  ]);

/** The same picture handed in again is the same one; one that could not be read is tried anew. */
export async function insertSought(
  db: Db,
  sought: { sha256: string; name: string; bytes: number; person: string },
): Promise<SoughtRow> {
  const { sha256, name, bytes, person } = sought;
  const row = await oneRow(
    db,
    soughtSchema,
    `INSERT INTO sought_pictures (sha256, name, bytes, made_by) VALUES ($1, $2, $3, $4)
     ON CONFLICT (sha256) DO UPDATE SET failure = NULL,
       state = CASE sought_pictures.state WHEN 'there' THEN 'there' ELSE 'reading' END
     RETURNING id, sha256, name, state, failure`,
    [sha256, name, bytes, person],
  );
  return row!;
}

/** @param failure why nothing can be found by it; nothing where something can */
export async function endSought(db: Db, id: string, failure: string | null): Promise<void> {
  await db.query(
    `UPDATE sought_pictures SET state = CASE WHEN $2::text IS NULL THEN 'there' ELSE 'failed' END, failure = $2
      WHERE id = $1 AND state = 'reading'`,
    [id, failure],
  );
}

/** Whether a picture has anything in it by which others could be like it. */
export async function hasFigures(db: Db, sha256: string): Promise<boolean> {
  const { rowCount } = await db.query("SELECT FROM picture_figures WHERE sha256 = $1", [sha256]);
  return rowCount === 1;
}
