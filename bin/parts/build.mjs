import { createHash } from "node:crypto";
import { existsSync, readdirSync, readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { run } from "./packages.mjs";
import { say } from "./say.mjs";

const SOURCES = [
  "bin/parts/bundle.mjs",
  "app",
  "core",
  "server",
  "package-lock.json",
  "vite.config.ts",
  "react-router.config.ts",
];
const STAMP = "build/.built-from";

/** Builds the web application and the worker unless the build is of these very sources. */
export function ensureBuild() {
  const hash = createHash("sha256");
  for (const source of SOURCES) addTo(hash, source);
  const sources = hash.digest("hex");
  if (existsSync(STAMP) && readFileSync(STAMP, "utf8") === sources) return;
  say("Building the application");
  run("node", ["node_modules/@react-router/dev/bin.js", "build", "--logLevel", "error"], {
    stdio: ["ignore", "ignore", "inherit"],
  });
  run("node", ["bin/parts/bundle.mjs"], { stdio: ["ignore", "ignore", "inherit"] });
  writeFileSync(STAMP, sources);
}

function addTo(hash, path) {
  const entries = path.includes(".") ? undefined : readdirSync(path, { withFileTypes: true });
  if (!entries) {
    hash.update(path).update(readFileSync(path));
    return;
  }
  for (const entry of entries.sort((a, b) => (a.name < b.name ? -1 : 1))) {
    const inner = join(path, entry.name);
    if (entry.isDirectory()) addTo(hash, inner);
    else hash.update(inner).update(readFileSync(inner));
  }
}
