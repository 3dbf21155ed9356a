import { z } from "zod";
import { oneRow, rows, type Db } from "#server/db/database";

export const LEVELS = ["look", "make", "keep"] as const;
export type Level = (typeof LEVELS)[number];

export const UNITS = ["mm", "cm", "m", "in"] as const;

export const personSchema = z.object({
  id: z.string(),
  name: z.string(),
  email: z.string(),
  level: z.enum(LEVELS),
  /** The drawing scale to look at things: 10 is 1:10. */
  scale: z.number(),
  /** The unit of a bare number that this person types. */
  unit: z.enum(UNITS),
});
export type Person = z.infer<typeof personSchema>;

const columns = "people.id, people.name, people.email, people.level, people.scale, people.unit";

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

/** Somebody who may sign in, with the hash to check the password against. */
export function findPersonToSignIn(db: Db, email: string) {
  return oneRow(
    db,
    personSchema.extend({ password_hash: z.string() }),
    `SELECT ${columns}, password_hash FROM people WHERE lower(email) = lower($1) AND retired_at IS NULL`,
    [email],
  );
}

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

export async function insertSession(
  db: Db,
  session: { idHash: string; person: string; agent: string; expiresAt: Date },
): Promise<void> {
  await db.query("DELETE FROM sessions WHERE expires_at < now()");
  await db.query("INSERT INTO sessions (id_hash, person, agent, expires_at) VALUES ($1, $2, $3, $4)", [
    session.idHash,
    session.person,
    session.agent,
    session.expiresAt,
  ]);
}

export async function deleteSession(db: Db, idHash: string): Promise<void> {
  await db.query("DELETE FROM sessions WHERE id_hash = $1", [idHash]);
}

const sessionSchema = z.object({
  id: z.string(),
  agent: z.string(),
  created_at: z.date(),
  /** The one that asks. */
  own: z.boolean(),
});

/** Where somebody is signed in, newest first. @param own hash of the session that asks */
export function listSessions(db: Db, person: string, own: string | undefined) {
  return rows(
    db,
    sessionSchema,
    `SELECT id, agent, created_at, id_hash = $2 AS own FROM sessions
      WHERE person = $1 AND expires_at > now() ORDER BY created_at DESC`,
    [person, own ?? ""],
  );
}

/** Ends one session of a person, or all but the one that asks. */
export async function endSessions(
  db: Db,
  person: string,
  which: { id: string } | { allBut: string | undefined },
): Promise<void> {
  if ("id" in which) await db.query("DELETE FROM sessions WHERE person = $1 AND id = $2", [person, which.id]);
  else
    await db.query("DELETE FROM sessions WHERE person = $1 AND id_hash <> $2", [person, which.allBut ?? ""]);
}

export function findPasswordHash(db: Db, person: string) {
  return oneRow(
    db,
    z.object({ password_hash: z.string() }),
    "SELECT password_hash FROM people WHERE id = $1 AND retired_at IS NULL",
    [person],
  );
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

export function findPersonBySession(db: Db, idHash: string) {
  return oneRow(
    db,
    personSchema,
    `SELECT ${columns} FROM sessions JOIN people ON people.id = person
      WHERE id_hash = $1 AND expires_at > now() AND retired_at IS NULL`,
    [idHash],
  );
}

const tokenSchema = z.object({
  id: z.string(),
  name: z.string(),
  created_at: z.date(),
  used_at: z.date().nullable(),
});

export async function insertToken(
  db: Db,
  token: { person: string; name: string; hash: string },
): Promise<z.infer<typeof tokenSchema>> {
  const row = await oneRow(
    db,
    tokenSchema,
    "INSERT INTO tokens (person, name, token_hash) VALUES ($1, $2, $3) RETURNING id, name, created_at, used_at",
    [token.person, token.name, token.hash],
  );
  return row!;
}

export function listTokens(db: Db, person: string) {
  return rows(
    db,
    tokenSchema,
    "SELECT id, name, created_at, used_at FROM tokens WHERE person = $1 AND revoked_at IS NULL ORDER BY created_at",
    [person],
  );
}

/** Revokes all tokens of a person. */
export async function revokeTokens(db: Db, person: string): Promise<void> {
  await db.query("UPDATE tokens SET revoked_at = now() WHERE person = $1 AND revoked_at IS NULL", [person]);
}

/** @returns whether it was one of that person's */
export async function revokeToken(db: Db, person: string, id: string): Promise<boolean> {
  const { rowCount } = await db.query(
    "UPDATE tokens SET revoked_at = now() WHERE person = $1 AND id = $2 AND revoked_at IS NULL",
    [person, id],
  );
  return rowCount === 1;
}

export function findPersonByToken(db: Db, hash: string) {
  return oneRow(
    db,
    personSchema,
    `WITH used AS (
       UPDATE tokens SET used_at = now() WHERE token_hash = $1 AND revoked_at IS NULL
         AND (used_at IS NULL OR used_at < now() - interval '1 minute')
     )
     SELECT ${columns} FROM tokens JOIN people ON people.id = tokens.person
      WHERE token_hash = $1 AND revoked_at IS NULL AND retired_at IS NULL`,
    [hash],
  );
}
