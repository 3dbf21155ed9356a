import { randomUUID } from "node:crypto";
import { createCookie } from "react-router";
import { z } from "zod";
import { hashSecret } from "#server/auth/tokens";
import { settings } from "#server/settings";

const DAYS = 180;
/** Accounts that one browser is remembered for. */
const MOST_ACCOUNTS = 8;

const deviceSchema = z.object({
  id: z.string().max(64),
  accounts: z.array(z.string().max(64)).max(MOST_ACCOUNTS),
});

let made: ReturnType<typeof createCookie> | undefined;

/** Signed, so that nobody makes one up: a browser in which somebody has signed in before. */
const cookie = () =>
  (made ??= createCookie("kalonomy-device", {
    httpOnly: true,
    sameSite: "lax",
    secure: settings().secureCookies,
    path: "/",
    maxAge: DAYS * 86_400,
    secrets: [settings().secret],
  }));

async function readDevice(cookieHeader: string | null): Promise<z.infer<typeof deviceSchema> | undefined> {
  return deviceSchema.safeParse(
    await cookie()
      .parse(cookieHeader)
      .catch(() => null),
  ).data;
}

/** The number of a browser in which this account has signed in before; undefined for any other. */
export async function knownDevice(cookieHeader: string | null, account: string): Promise<string | undefined> {
  const device = await readDevice(cookieHeader);
  return device?.accounts.includes(hashSecret(account)) ? device.id : undefined;
}

/** Remembers a browser for an account: the `Set-Cookie` header. */
export async function rememberDevice(cookieHeader: string | null, account: string): Promise<string> {
  const device = (await readDevice(cookieHeader)) ?? { id: randomUUID(), accounts: [] };
  const own = hashSecret(account);
  const accounts = [own, ...device.accounts.filter((one) => one !== own)].slice(0, MOST_ACCOUNTS);
  return cookie().serialize({ id: device.id, accounts });
}
