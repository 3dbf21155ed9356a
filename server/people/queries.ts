import { z } from "zod";
import { type Person, personSchema, columns } from "#server/auth/person";
import { type Db, oneRow, rows } from "#server/db/database";

/** The keeper who has been here longest: what nobody sent by hand is theirs. */
export const findKeeper = (db: Db) =>
  oneRow(
    db,
    z.object({ id: z.string() }),
    "SELECT id FROM people WHERE level = 'keep' AND retired_at IS NULL ORDER BY created_at LIMIT 1",
  );

export function listPeople(db: Db): Promise<Person[]> {
  return rows(
    db,
    personSchema,
    `SELECT ${columns} FROM people WHERE retired_at IS NULL ORDER BY lower(name)`,
  );
}
