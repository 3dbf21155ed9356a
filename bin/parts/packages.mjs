import { spawnSync } from "node:child_process";
import { createHash } from "node:crypto";
import { existsSync, mkdirSync, readdirSync, readFileSync, writeFileSync } from "node:fs";
import { say, Stop } from "./say.mjs";

const POSTGRES_ROOT = "/usr/lib/postgresql";

/** Folder of the newest installed PostgreSQL's programs. */
export function postgresPrograms() {
  if (!existsSync(POSTGRES_ROOT)) return undefined;
  const newest = readdirSync(POSTGRES_ROOT)
    .filter((version) => existsSync(`${POSTGRES_ROOT}/${version}/bin/initdb`))
    .sort((a, b) => Number(b) - Number(a))[0];
  return newest && `${POSTGRES_ROOT}/${newest}/bin`;
}

export function chromiumPath() {
  return ["/usr/bin/chromium", "/usr/bin/chromium-browser"].find(existsSync);
}

const DEBIAN = {
  postgresql: () => postgresPrograms() !== undefined,
  chromium: () => chromiumPath() !== undefined,
};

/** Checks Node, and installs Debian's and npm's packages where they are missing. Without root it says what to run. */
export function ensurePackages(wanted) {
  const [major, minor] = process.versions.node.split(".").map(Number);
  if (major < 20 || (major === 20 && minor < 19))
    throw new Stop(`Node.js 20.19 or newer is needed; this is ${process.versions.node}.`);
  ensureDebian(wanted.filter((name) => !DEBIAN[name]()));
  ensureNpm();
}

function ensureDebian(missing) {
  if (missing.length === 0) return;
  const install = ["apt-get", "install", "-y", "--no-install-recommends", ...missing];
  if (process.getuid() !== 0)
    throw new Stop(
      `Missing from this machine: ${missing.join(", ")}. Run this once, and then the command again:\n\n  sudo sh -c 'apt-get update && ${install.join(" ")}'`,
    );
  say(`Installing Debian's ${missing.join(" and ")}`);
  if (missing.includes("postgresql")) {
    // Debian would otherwise make and start a server of its own beside ours.
    mkdirSync("/etc/postgresql-common/createcluster.d", { recursive: true });
    writeFileSync("/etc/postgresql-common/createcluster.d/kalonomy.conf", "create_main_cluster = false\n");
  }
  const env = { ...process.env, DEBIAN_FRONTEND: "noninteractive" };
  run("apt-get", ["update", "-qq"], { env, stdio: ["ignore", "ignore", "inherit"] });
  run(install[0], install.slice(1), { env, stdio: ["ignore", "ignore", "inherit"] });
}

function ensureNpm() {
  const lock = createHash("sha256").update(readFileSync("package-lock.json")).digest("hex");
  const stamp = "node_modules/.installed-from";
  if (existsSync(stamp) && readFileSync(stamp, "utf8") === lock) return;
  say("Installing npm packages");
  run("npm", ["ci", "--include=dev", "--no-audit", "--no-fund"], { stdio: ["ignore", "ignore", "inherit"] });
  writeFileSync(stamp, lock);
}

/** Runs a program to its end. @throws {Stop} where it fails. */
export function run(program, args, options = {}) {
  const { status, error } = spawnSync(program, args, { stdio: "inherit", ...options });
  if (error || status !== 0)
    throw new Stop(`“${[program, ...args].join(" ")}” failed${error ? `: ${error.message}` : "."}`);
}
