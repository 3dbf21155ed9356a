import type { z } from "zod";
import { tokenSchema } from "#server/auth/queries";
import { type Db, oneRow } from "#server/db/database";

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
