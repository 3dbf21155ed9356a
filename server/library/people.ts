import { z } from "zod";
import { hashPassword, MIN_PASSWORD } from "#server/auth/passwords";
import { isOwnPassword } from "#server/auth/signIn";
import { makeSecret } from "#server/auth/tokens";
import { database, inTransaction, violates } from "#server/db/database";
import {
  endSessions,
  insertPerson,
  insertToken,
  LEVELS,
  retirePerson,
  setLevel,
  setPassword,
  type Level,
  type Person,
} from "#server/db/people";
import { badField, conflict, notFound } from "#server/problem";

const password = z.string().min(MIN_PASSWORD, `A password has ${MIN_PASSWORD} characters or more.`).max(1000);

export const newPersonSchema = z
  .object({
    name: z.string().trim().min(1, "Give the person a name.").max(200),
    email: z.email("That is no e-mail address."),
    password,
    level: z.enum(LEVELS),
  })
  .strict();

/** @throws {Problem} where somebody has that address */
export async function addPerson({ password, ...fields }: z.infer<typeof newPersonSchema>): Promise<Person> {
  try {
    return await insertPerson(database(), { ...fields, passwordHash: await hashPassword(password) });
  } catch (error) {
    if (violates(error, "people_email"))
      throw conflict(`Somebody with the address ${fields.email} is there already, or has been.`, "/email");
    throw error;
  }
}

/** Ends all that somebody may do; what they made stays. @throws {Problem} */
export async function retire(id: string, keeper: Person): Promise<void> {
  // So one keeper always stays.
  if (id === keeper.id) throw conflict("You cannot retire yourself: ask another keeper.");
  if (!(await inTransaction((db) => retirePerson(db, id)))) throw notFound("person");
}

/** @throws {Problem} */
export async function changeLevel(id: string, level: Level, keeper: Person): Promise<void> {
  if (id === keeper.id) throw conflict("You cannot change your own level: ask another keeper.");
  if (!(await setLevel(database(), id, level))) throw notFound("person");
}

/** A keeper helps somebody who has lost their password: it is set, and they are signed out everywhere. @throws {Problem} */
export async function giveNewPassword(id: string, given: string): Promise<void> {
  const hash = await hashPassword(checked(given, "/password"));
  await inTransaction(async (db) => {
    if (!(await setPassword(db, id, hash))) throw notFound("person");
    await endSessions(db, id, { allBut: undefined });
  });
}

/** Somebody changes their own password, and is signed out everywhere else. @throws {Problem} */
export async function changePassword(
  person: Person,
  { now, next }: { now: string; next: string },
  session: string | undefined,
): Promise<void> {
  if (!(await isOwnPassword(person, now))) throw badField("/now", "That is not your present password.");
  const hash = await hashPassword(checked(next, "/next"));
  await inTransaction(async (db) => {
    await setPassword(db, person.id, hash);
    await endSessions(db, person.id, { allBut: session });
  });
}

/** A token for scripts; its secret is told this once. @throws {Problem} */
export async function makeToken(person: Person, name: string) {
  const trimmed = name.trim().slice(0, 200);
  if (!trimmed) throw badField("/name", "Say what the token is for.");
  const { secret, hash } = makeSecret("token");
  return { secret, ...(await insertToken(database(), { person: person.id, name: trimmed, hash })) };
}

function checked(text: string, pointer: string): string {
  const read = password.safeParse(text);
  if (!read.success) throw badField(pointer, read.error.issues[0].message);
  return read.data;
}
