import { createCookie } from "react-router";
import { hashSecret, makeSecret } from "#server/auth/tokens";
import { database } from "#server/db/database";
import { deleteSession, findPersonBySession, insertSession, type Person } from "#server/db/people";
import { settings } from "#server/settings";

const DAYS = 14;

let made: ReturnType<typeof createCookie> | undefined;

/** Signed, out of reach of scripts, and not sent along from other sites. */
const cookie = () =>
  (made ??= createCookie("kalonomy", {
    httpOnly: true,
    sameSite: "lax",
    secure: settings().secureCookies,
    path: "/",
    maxAge: DAYS * 86_400,
    secrets: [settings().secret],
  }));

/** Begins a session and gives the `Set-Cookie` header. */
export async function beginSession(person: string, agent = ""): Promise<string> {
  const { secret, hash } = makeSecret("session");
  await insertSession(database(), {
    idHash: hash,
    person,
    agent: agent.slice(0, 400),
    expiresAt: new Date(Date.now() + DAYS * 86_400_000),
  });
  return cookie().serialize(secret);
}

export async function endSession(cookieHeader: string | null | undefined): Promise<string> {
  const hash = await ownSession(cookieHeader);
  if (hash !== undefined) await deleteSession(database(), hash);
  return cookie().serialize("", { maxAge: 0 });
}

export async function personOfSession(cookieHeader: string | null | undefined): Promise<Person | undefined> {
  const hash = await ownSession(cookieHeader);
  return hash === undefined ? undefined : findPersonBySession(database(), hash);
}

/** The hash of a request's own session; undefined without one. */
export async function ownSession(cookieHeader: string | null | undefined): Promise<string | undefined> {
  const secret: unknown = await cookie().parse(cookieHeader ?? null);
  return typeof secret === "string" && secret ? hashSecret(secret) : undefined;
}
