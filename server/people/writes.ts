import { type Level, type Person, personSchema, columns } from "#server/auth/person";
import { revokeTokens } from "#server/auth/writes";
import { type Db, oneRow } from "#server/db/database";

export async function insertPerson(
  db: Db,
  person: { name: string; email: string; level: Level; passwordHash: string },
): Promise<Person> {
  const row = await oneRow(
    db,
    personSchema,
    `INSERT INTO people (name, email, level, password_hash) VALUES ($1, $2, $3, $4) RETURNING ${columns}`,
    [person.name, person.email, person.level, person.passwordHash],
  );
  return row!;
}

/** @returns whether there was such a person */
export async function retirePerson(db: Db, id: string): Promise<boolean> {
  const { rowCount } = await db.query(
    "UPDATE people SET retired_at = now() WHERE id = $1 AND retired_at IS NULL",
    [id],
  );
  await db.query("DELETE FROM sessions WHERE person = $1", [id]);
  await revokeTokens(db, id);
  return rowCount === 1;
}

export async function setView(
  db: Db,
  id: string,
  view: { scale?: number; unit?: Person["unit"] },
): Promise<void> {
  await db.query("UPDATE people SET scale = COALESCE($2, scale), unit = COALESCE($3, unit) WHERE id = $1", [
    id,
    view.scale ?? null,
    view.unit ?? null,
  ]);
}

/** @returns whether there is such a person */
export async function setPassword(db: Db, person: string, hash: string): Promise<boolean> {
  const { rowCount } = await db.query(
    "UPDATE people SET password_hash = $2 WHERE id = $1 AND retired_at IS NULL",
    [person, hash],
  );
  return rowCount === 1;
}

/** @returns whether there is such a person */
export async function setLevel(db: Db, person: string, level: Level): Promise<boolean> {
  const { rowCount } = await db.query("UPDATE people SET level = $2 WHERE id = $1 AND retired_at IS NULL", [
    person,
    level,
  ]);
  return rowCount === 1;
}
