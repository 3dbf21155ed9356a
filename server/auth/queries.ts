import { z } from "zod";
import { personSchema, columns } from "#server/auth/person";
import { type Db, oneRow, rows } from "#server/db/database";

/** Somebody who may sign in, with the hash to check the password against. */
export function findPersonToSignIn(db: Db, email: string) {
  return oneRow(
    db,
    personSchema.extend({ password_hash: z.string() }),
    `SELECT ${columns}, password_hash FROM people WHERE lower(email) = lower($1) AND retired_at IS NULL`,
    [email],
  );
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

export function findPasswordHash(db: Db, person: string) {
  return oneRow(
    db,
    z.object({ password_hash: z.string() }),
    "SELECT password_hash FROM people WHERE id = $1 AND retired_at IS NULL",
    [person],
  );
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

export const tokenSchema = z.object({
  id: z.string(),
  name: z.string(),
  created_at: z.date(),
  used_at: z.date().nullable(),
});

export function listTokens(db: Db, person: string) {
  return rows(
    db,
    tokenSchema,
    "SELECT id, name, created_at, used_at FROM tokens WHERE person = $1 AND revoked_at IS NULL ORDER BY created_at",
    [person],
  );
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
