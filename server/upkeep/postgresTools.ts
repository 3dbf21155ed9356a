import { spawn } from "node:child_process";
import { existsSync, readdirSync } from "node:fs";

const DEBIAN = "/usr/lib/postgresql";

/** PostgreSQL's own programs, the newest that Debian has installed, or those on the path. */
function programOf(name: string): string {
  const versions = existsSync(DEBIAN) ? readdirSync(DEBIAN).sort((a, b) => Number(b) - Number(a)) : [];
  const found = versions.map((version) => `${DEBIAN}/${version}/bin/${name}`).find(existsSync);
  return found ?? name;
}

/** Runs pg_dump or pg_restore against a database, whose password goes by the environment and not by the command. */
export function runPostgresTool(name: "pg_dump" | "pg_restore", args: string[], url: string): Promise<void> {
  const { hostname, port, username, password, pathname } = new URL(url);
  const env = {
    ...process.env,
    PGHOST: hostname,
    PGPORT: port || "5432",
    PGUSER: decodeURIComponent(username),
    PGPASSWORD: decodeURIComponent(password),
    PGDATABASE: decodeURIComponent(pathname.slice(1)),
  };
  return new Promise((resolve, reject) => {
    const child = spawn(programOf(name), args, { env, stdio: ["ignore", "ignore", "pipe"] });
    let said = "";
    child.stderr.setEncoding("utf8").on("data", (text: string) => (said = (said + text).slice(-2000)));
    child.on("error", (error) => reject(new Error(`${name} cannot be run: ${error.message}`)));
    child.on("close", (code) =>
      code === 0 ? resolve() : reject(new Error(`${name} ended with ${code}: ${said.trim()}`)),
    );
  });
}
