import { RateLimiterPostgres, RateLimiterRes } from "rate-limiter-flexible";
import { passwordFits } from "#server/auth/passwords";
import { database } from "#server/db/database";
import type { Person } from "#server/auth/person";
import { findPasswordHash, findPersonToSignIn } from "#server/auth/queries";
import { countWrongPassword, noteWrongPassword } from "#server/auth/wrongPasswords";
import { Problem } from "#server/problem";

const WINDOW_S = 900;

/** Wrong attempts within a quarter of an hour. */
const POINTS = {
  /** For one account from one address, or from one browser that is known for it. */
  pair: 8,
  /** From one address, as a studio shares one. */
  address: 60,
  /** For one account from everywhere: beyond it only browsers pass that are known for it. */
  account: 40,
};

const limits = () => {
  const stored = (keyPrefix: keyof typeof POINTS) =>
    new RateLimiterPostgres({
      storeClient: database(),
      tableName: "sign_in_limits",
      tableCreated: true,
      keyPrefix,
      points: POINTS[keyPrefix],
      duration: WINDOW_S,
      clearExpiredByTimeout: false,
    });
  return { pair: stored("pair"), address: stored("address"), account: stored("account") };
};
let made: ReturnType<typeof limits> | undefined;

function tooMany(rejected: unknown): unknown {
  if (!(rejected instanceof RateLimiterRes)) return rejected;
  const minutes = Math.ceil(rejected.msBeforeNext / 60_000);
  return new Problem(429, "Too many attempts", `Too many attempts to sign in. Try again in ${minutes} min.`);
}

/** Whether that is somebody's password; guesses at a screen that was left open are limited like those at the door. @throws {Problem} 429 */
export async function isOwnPassword(person: Person, password: string): Promise<boolean> {
  const { pair } = (made ??= limits());
  const key = `${person.email.toLowerCase()} own`;
  await pair.consume(key).catch((rejected: unknown) => {
    throw tooMany(rejected);
  });
  const known = await findPasswordHash(database(), person.id);
  if (!(await passwordFits(known?.password_hash, password))) return false;
  await pair.delete(key);
  return true;
}

/** Who tries to sign in, and from where. */
export interface Attempt {
  email: string;
  password: string;
  address: string;
  /** Number of a browser that is known for the account. */
  device?: string;
}

/**
 * Signs somebody in. Guesses are limited by account and address together, so that nobody's wrong passwords lock another one
 * out; a browser that is known for the account has a limit of its own.
 * @throws {Problem} 401 where address or password do not fit, 429 after too many attempts
 */
export async function checkSignIn({ email, password, address, device }: Attempt): Promise<Person> {
  const account = email.trim().toLowerCase().slice(0, 320);
  const { pair, address: byAddress, account: byAccount } = (made ??= limits());
  const from = `${account} ${device ?? address}`;
  try {
    // The address first: whoever makes accounts up is stopped before any of them is noted.
    if (!device) await byAddress.consume(address);
    if (!device) await byAccount.consume(account);
    await pair.consume(from);
  } catch (rejected) {
    if (rejected instanceof RateLimiterRes) await countWrongPassword(database(), { account, address });
    throw tooMany(rejected);
  }
  const person = await findPersonToSignIn(database(), account);
  if (!(await passwordFits(person?.password_hash, password)) || !person) {
    await noteWrongPassword(database(), { account, address });
    throw new Problem(401, "Not signed in", "The address or the password is not right.");
  }
  await pair.delete(from);
  if (!device) await Promise.all([byAddress.reward(address), byAccount.reward(account)]);
  await database().query("DELETE FROM sign_in_limits WHERE expire < $1", [Date.now()]);
  return person;
}
