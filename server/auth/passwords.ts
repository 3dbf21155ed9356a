import { hash, verify } from "@node-rs/argon2";

/** Argon2id with the parameters that OWASP gives as the least (19 MiB, 2 passes). */
const OPTIONS = { memoryCost: 19_456, timeCost: 2, parallelism: 1 };

export const MIN_PASSWORD = 10;

export const hashPassword = (password: string): Promise<string> => hash(password, OPTIONS);

/** A hash that no password fits, so that an unknown address takes as long as a wrong password. */
const NOBODY = hash("nobody has this password", OPTIONS);

export async function passwordFits(passwordHash: string | undefined, password: string): Promise<boolean> {
  // A hash that is none fits nothing.
  const fits = await verify(passwordHash ?? (await NOBODY), password).catch(() => false);
  return fits && passwordHash !== undefined;
}
