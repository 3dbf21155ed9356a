import { RateLimiterMemory, RateLimiterRes } from "rate-limiter-flexible";
import { passwordFits } from "#server/auth/passwords";
import { database } from "#server/db/database";
import { findPersonToSignIn, type Person } from "#server/db/people";
import { Problem } from "#server/problem";

/** Wrong attempts within a quarter of an hour: few for one account, more for one address, as a studio shares one. */
const byAccount = new RateLimiterMemory({ points: 8, duration: 900 });
const byAddress = new RateLimiterMemory({ points: 60, duration: 900 });

/** @throws {Problem} 401 where address or password do not fit, 429 after too many attempts. */
export async function checkSignIn(email: string, password: string, address: string): Promise<Person> {
  const account = email.trim().toLowerCase();
  try {
    await Promise.all([byAccount.consume(account), byAddress.consume(address)]);
  } catch (rejected) {
    if (!(rejected instanceof RateLimiterRes)) throw rejected;
    const minutes = Math.ceil(rejected.msBeforeNext / 60_000);
    throw new Problem(429, "Too many attempts", `Too many attempts to sign in. Try again in ${minutes} min.`);
  }
  const person = await findPersonToSignIn(database(), account);
  if (!(await passwordFits(person?.password_hash, password)) || !person)
    throw new Problem(401, "Not signed in", "The address or the password is not right.");
  await Promise.all([byAccount.delete(account), byAddress.reward(address)]);
  return person;
}
