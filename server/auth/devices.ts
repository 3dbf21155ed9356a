import { randomUUID } from "node:crypto";
import { z } from "zod";
import { signedCookie } from "#server/auth/cookies";
import { hashSecret } from "#server/auth/tokens";

const DAYS = 180;
/** Accounts that one browser is remembered for. */
const MOST_ACCOUNTS = 8;

const deviceSchema = z.object({
  id: z.string().max(64),
  accounts: z.array(z.string().max(64)).max(MOST_ACCOUNTS),
});

/** A browser in which somebody has signed in before. */
const cookie = signedCookie("kalonomy-device", DAYS);

function readDevice(cookieHeader: string | null): z.infer<typeof deviceSchema> | undefined {
  const text = cookie.read(cookieHeader);
  if (text === undefined) return undefined;
  try {
    return deviceSchema.safeParse(JSON.parse(text)).data;
  } catch {
    return undefined;
  }
}

/** The number of a browser in which this account has signed in before; undefined for any other. */
export function knownDevice(cookieHeader: string | null, account: string): string | undefined {
  const device = readDevice(cookieHeader);
  return device?.accounts.includes(hashSecret(account)) ? device.id : undefined;
}

/** Remembers a browser for an account: the `Set-Cookie` header. */
export function rememberDevice(cookieHeader: string | null, account: string): string {
  const device = readDevice(cookieHeader) ?? { id: randomUUID(), accounts: [] };
  const own = hashSecret(account);
  const accounts = [own, ...device.accounts.filter((one) => one !== own)].slice(0, MOST_ACCOUNTS);
  return cookie.write(JSON.stringify({ id: device.id, accounts }));
}
