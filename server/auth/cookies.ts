import { parse, serialize } from "cookie";
import { sign, unsign } from "cookie-signature";
import { settings } from "#server/settings";

export interface SignedCookie {
  /** What this cookie of a request says, where it is signed by us; undefined otherwise. */
  read(header: string | null | undefined): string | undefined;
  /** The `Set-Cookie` header. */
  write(value: string): string;
  /** The header that takes it away. */
  clear(): string;
}

/** A cookie that nobody makes up, out of reach of scripts, and not sent along from other sites. */
export function signedCookie(name: string, days: number): SignedCookie {
  const attributes = (maxAge: number) => ({
    httpOnly: true,
    sameSite: "lax" as const,
    secure: settings().secureCookies,
    path: "/",
    maxAge,
  });
  return {
    read(header) {
      const value = header ? parse(header)[name] : undefined;
      return (value && unsign(value, settings().secret)) || undefined;
    },
    write: (value) => serialize(name, sign(value, settings().secret), attributes(days * 86_400)),
    clear: () => serialize(name, "", attributes(0)),
  };
}
