import { signedCookie } from "#server/auth/cookies";
import { hashSecret, makeSecret } from "#server/auth/tokens";
import { database } from "#server/db/database";
import type { Person } from "#server/auth/person";
import { findPersonBySession } from "#server/auth/queries";
import { deleteSession, insertSession } from "#server/auth/writes";

const DAYS = 14;

const cookie = signedCookie("kalonomy-session", DAYS);

/** Begins a session and gives the `Set-Cookie` header. */
export async function beginSession(person: string, agent = ""): Promise<string> {
  const { secret, hash } = makeSecret("session");
  await insertSession(database(), {
    idHash: hash,
    person,
    agent: agent.slice(0, 400),
    expiresAt: new Date(Date.now() + DAYS * 86_400_000),
  });
  return cookie.write(secret);
}

export async function endSession(cookieHeader: string | null | undefined): Promise<string> {
  const hash = ownSession(cookieHeader);
  if (hash !== undefined) await deleteSession(database(), hash);
  return cookie.clear();
}

export async function personOfSession(cookieHeader: string | null | undefined): Promise<Person | undefined> {
  const hash = ownSession(cookieHeader);
  return hash === undefined ? undefined : findPersonBySession(database(), hash);
}

/** The hash of a request's own session; undefined without one. */
export function ownSession(cookieHeader: string | null | undefined): string | undefined {
  const secret = cookie.read(cookieHeader);
  return secret === undefined ? undefined : hashSecret(secret);
}
