import { randomBytes } from "node:crypto";
import { chmodSync, existsSync, mkdirSync, readFileSync, writeFileSync } from "node:fs";
import { join, resolve } from "node:path";

/**
 * The folder where database and files live, with secrets of its own that are made once. As root, others may pass
 * through it (not look into it), since the database runs as another user.
 */
export function openDataFolder(path) {
  const folder = resolve(path);
  mkdirSync(folder, { recursive: true });
  if (process.getuid() === 0) chmodSync(folder, 0o711);
  const file = join(folder, "secrets.json");
  if (!existsSync(file)) {
    const secret = () => randomBytes(24).toString("base64url");
    writeFileSync(
      file,
      JSON.stringify({
        database: secret(),
        cookies: secret() + secret(),
        demoPassword: secret().slice(0, 14),
        demoToken: `token_${secret()}`,
      }),
      {
        mode: 0o600,
        flag: "wx",
      },
    );
  }
  return { folder, secrets: JSON.parse(readFileSync(file, "utf8")) };
}
