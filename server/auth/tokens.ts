import { createHash, randomBytes } from "node:crypto";

/** A secret for a session or a script, of which only the hash is kept. */
export function makeSecret(prefix: string): { secret: string; hash: string } {
  const secret = `${prefix}_${randomBytes(32).toString("base64url")}`;
  return { secret, hash: hashSecret(secret) };
}

export function hashSecret(secret: string): string {
  return createHash("sha256").update(secret).digest("hex");
}
