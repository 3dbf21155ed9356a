import { z } from "zod";
import { hashPassword, MIN_PASSWORD } from "#server/auth/passwords";
import { isOwnPassword } from "#server/auth/signIn";
import { makeSecret } from "#server/auth/tokens";
import { isWeakPassword } from "#server/auth/weakPassword";
import { announce } from "#server/events/events";
import { database, inTransaction, violates } from "#server/db/database";
import { LEVELS, type Level, type Person } from "#server/auth/person";
import { endSessions, insertToken, revokeToken, revokeTokens } from "#server/auth/writes";
import { listPeople } from "#server/people/queries";
import { insertPerson, retirePerson, setLevel, setPassword, setView } from "#server/people/writes";
import { badField, conflict, notFound } from "#server/problem";

const password = z
  .string()
  .min(MIN_PASSWORD, `A password has ${MIN_PASSWORD} characters or more.`)
  .max(1000, "A password has 1000 characters at most.");

export const newPersonSchema = z
  .object({
    name: z.string("Give the person a name.").trim().min(1, "Give the person a name.").max(200),
    email: z.email("That is no e-mail address."),
    password,
    level: z.enum(LEVELS),
  })
  .strict();

/** @throws {Problem} where somebody has that address */
export async function addPerson({ password, ...fields }: z.infer<typeof newPersonSchema>): Promise<Person> {
  await checked(password, "/password", fields);
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
  const retired = await keeperStays(() =>
    inTransaction(async (db) => {
      if (!(await retirePerson(db, id))) return false;
      await announce(db, { topic: "people", id });
      return true;
    }),
  );
  if (!retired) throw notFound("person");
}

/** Two keepers may retire each other at the same moment: the database lets one of them. @throws {Problem} for the other */
async function keeperStays<T>(work: () => Promise<T>): Promise<T> {
  try {
    return await work();
  } catch (error) {
    if (violates(error, "people_keeper_stays"))
      throw conflict("The studio would have no keeper any more: one has to stay.");
    throw error;
  }
}

/** @throws {Problem} */
export async function changeLevel(id: string, level: Level, keeper: Person): Promise<void> {
  if (id === keeper.id) throw conflict("You cannot change your own level: ask another keeper.");
  const changed = await keeperStays(() =>
    inTransaction(async (db) => {
      if (!(await setLevel(db, id, level))) return false;
      await announce(db, { topic: "people", id });
      return true;
    }),
  );
  if (!changed) throw notFound("person");
}

/**
 * A keeper helps somebody who has lost their password: it is set, they are signed out everywhere, and their tokens are
 * revoked. @throws {Problem}
 */
export async function giveNewPassword(id: string, given: string): Promise<void> {
  const person = (await listPeople(database())).find((one) => one.id === id);
  if (!person) throw notFound("person");
  const hash = await hashPassword(await checked(given, "/password", person));
  await inTransaction(async (db) => {
    if (!(await setPassword(db, id, hash))) throw notFound("person");
    await endSessions(db, id, { allBut: undefined });
    await revokeTokens(db, id);
    await announce(db, { topic: "people", id });
  });
}

/** Somebody changes their own password, is signed out everywhere else, and loses their tokens unless they keep them. @throws {Problem} */
export async function changePassword(
  person: Person,
  { now, next, keepTokens }: { now: string; next: string; keepTokens: boolean },
  session: string | undefined,
): Promise<void> {
  if (!(await isOwnPassword(person, now))) throw badField("/now", "That is not your present password.");
  const hash = await hashPassword(await checked(next, "/next", person));
  await inTransaction(async (db) => {
    await setPassword(db, person.id, hash);
    await endSessions(db, person.id, { allBut: session });
    if (!keepTokens) await revokeTokens(db, person.id);
    await announce(db, { topic: "people", id: person.id });
  });
}

/** A token for scripts; its secret is told this once. @throws {Problem} */
export async function makeToken(person: Person, name: string) {
  const trimmed = name.trim().slice(0, 200);
  if (!trimmed) throw badField("/name", "Say what the token is for.");
  const { secret, hash } = makeSecret("token");
  return { secret, ...(await insertToken(database(), { person: person.id, name: trimmed, hash })) };
}

/** A password that is long enough, and not easily guessed. @throws {Problem} */
async function checked(
  text: string,
  pointer: string,
  { name, email }: Pick<Person, "name" | "email">,
): Promise<string> {
  const read = password.safeParse(text);
  if (!read.success) throw badField(pointer, read.error.issues[0].message);
  if (await isWeakPassword(text, [name, email]))
    throw badField(
      pointer,
      "That password is easily guessed. Take several words that have nothing to do with each other, or with you.",
    );
  return read.data;
}

/** Ends one of somebody's sessions, or all but the one that asks. */
export const endOwnSessions = (
  person: Person,
  which: { id: string } | { allBut: string | undefined },
): Promise<void> => endSessions(database(), person.id, which);

/** @throws {Problem} where they have no such token */
export async function revokeOwnToken(person: Person, id: string): Promise<void> {
  if (!(await revokeToken(database(), person.id, id))) throw notFound("token");
}

/** Keeps the scale and unit that a person looks at things in. */
export const keepView = (person: Person, view: { scale?: number; unit?: Person["unit"] }): Promise<void> =>
  setView(database(), person.id, view);
