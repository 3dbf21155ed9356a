import { createInterface } from "node:readline/promises";
import { z } from "zod";
import { hashPassword, MIN_PASSWORD } from "#server/auth/passwords";
import { isWeakPassword } from "#server/auth/weakPassword";
import { closeDatabase, database } from "#server/db/database";
import { LEVELS } from "#server/auth/person";
import { insertPerson } from "#server/people/writes";

// The first person of a new studio: npm run add-person -- NAME EMAIL LEVEL; the password is read from standard input.
const [name, email, level] = z
  .tuple([z.string().min(1), z.email(), z.enum(LEVELS)])
  .parse(process.argv.slice(2, 5));
const input = createInterface({ input: process.stdin, output: process.stderr });
const password = await input.question(`Password of ${name}, ${MIN_PASSWORD} characters or more: `);
input.close();
if (password.length < MIN_PASSWORD) throw new Error(`The password needs ${MIN_PASSWORD} characters or more.`);
if (await isWeakPassword(password, [name, email])) throw new Error("That password is easily guessed.");
await insertPerson(database(), { name, email, level, passwordHash: await hashPassword(password) });
console.error(`${name} can sign in.`);
await closeDatabase();
