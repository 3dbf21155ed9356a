import { RateLimiterPostgres, RateLimiterRes } from "rate-limiter-flexible";
import { passwordFits } from "#server/auth/passwords";
import { database } from "#server/db/database";
import { findPasswordHash, findPersonToSignIn, type Person } from "#server/db/people";
import { Problem } from "#server/problem";

const WINDOW_S = 900;

/** Wrong attempts within a quarter of an hour: few for one account, more for one address, as a studio shares one. */
const limits = () => {
  const stored = (keyPrefix: string, points: number) =>
    new RateLimiterPostgres({
      storeClient: database(),
      tableName: "sign_in_limits",
      tableCreated: true,
      keyPrefix,
      points,
      duration: WINDOW_S,
      clearExpiredByTimeout: false,
    });
  return { byAccount: stored("account", 8), byAddress: stored("address", 60) };
};
let made: ReturnType<typeof limits> | undefined;

function tooMany(rejected: unknown): unknown {
  if (!(rejected instanceof RateLimiterRes)) return rejected;
  const minutes = Math.ceil(rejected.msBeforeNext / 60_000);
  return new Problem(429, "Too many attempts", `Too many attempts to sign in. Try again in ${minutes} min.`);
}

/** Whether that is somebody's password; guesses at a screen that was left open count as those at the door. @throws {Problem} 429 */
export async function isOwnPassword(person: Person, password: string): Promise<boolean> {
  const { byAccount } = (made ??= limits());
  const account = person.email.toLowerCase();
  await byAccount.consume(account).catch((rejected: unknown) => {
    throw tooMany(rejected);
  });
  const known = await findPasswordHash(database(), person.id);
  if (!(await passwordFits(known?.password_hash, password))) return false;
  await byAccount.delete(account);
  return true;
}

/** @throws {Problem} 401 where address or password do not fit, 429 after too many attempts. */
export async function checkSignIn(email: string, password: string, address: string): Promise<Person> {
  const account = email.trim().toLowerCase();
  const { byAccount, byAddress } = (made ??= limits());
  try {
    await Promise.all([byAccount.consume(account), byAddress.consume(address)]);
  } catch (rejected) {
    throw tooMany(rejected);
  }
  const person = await findPersonToSignIn(database(), account);
  if (!(await passwordFits(person?.password_hash, password)) || !person)
    throw new Problem(401, "Not signed in", "The address or the password is not right.");
  await Promise.all([byAccount.delete(account), byAddress.reward(address)]);
  await database().query("DELETE FROM sign_in_limits WHERE expire < $1", [Date.now()]);
  return person;
}
