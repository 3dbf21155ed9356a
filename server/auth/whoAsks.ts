import type { Request } from "express";
import { personOfSession } from "#server/auth/sessions";
import { hashSecret } from "#server/auth/tokens";
import { database } from "#server/db/database";
import type { Person } from "#server/auth/person";
import { findPersonByToken } from "#server/auth/queries";

/** Whoever sends a token, or has a session at a screen. A token that is wrong is nobody, whatever session comes along. */
export async function whoAsks(request: Request): Promise<Person | undefined> {
  const header = request.headers.authorization;
  if (header === undefined) return personOfSession(request.headers.cookie);
  const token = /^Bearer\s+(\S+)$/i.exec(header)?.[1];
  return token ? findPersonByToken(database(), hashSecret(token)) : undefined;
}
