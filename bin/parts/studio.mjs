import { spawn } from "node:child_process";
import { run } from "./packages.mjs";
import { Stop } from "./say.mjs";

const TSX = ["--import", "tsx"];

/** The environment that web, worker and scripts read. */
export function studioEnvironment({ folder, secrets }, databaseUrl, port) {
  return {
    ...process.env,
    NODE_ENV: "production",
    DATABASE_URL: databaseUrl,
    KALONOMY_DATA: folder,
    KALONOMY_SECRET: secrets.cookies,
    KALONOMY_DEMO: "1",
    KALONOMY_DEMO_PASSWORD: secrets.demoPassword,
    KALONOMY_DEMO_TOKEN: secrets.demoToken,
    PORT: String(port),
  };
}

/** Brings the database up to date and loads the demo studio, unless it is there already. */
export function loadDemo(env) {
  run("node", [...TSX, "demo/load.ts"], { env });
}

/**
 * Starts the web and the worker process and waits until the web process answers.
 * @returns a promise that ends when either of them ends, and a function that stops both.
 */
export async function startStudio(env, { quiet = false } = {}) {
  const options = { env, stdio: ["ignore", quiet ? "ignore" : "inherit", "inherit"] };
  // They end with this process, even when that is killed.
  const start = (args) => spawn("setpriv", ["--pdeathsig", "TERM", process.execPath, ...args], options);
  const children = [start(["server/start.mjs"]), start([...TSX, "server/jobs/worker.ts"])];
  const ends = children.map((child) => new Promise((resolve) => child.on("exit", resolve)));
  const address = `http://127.0.0.1:${env.PORT}`;
  const stop = async () => {
    for (const child of children) if (child.exitCode === null) child.kill("SIGTERM");
    await Promise.all(ends);
  };
  for (let tries = 0; ; tries++) {
    const answer = await fetch(`${address}/healthz`).catch(() => undefined);
    if (answer?.ok) break;
    if (children.some((child) => child.exitCode !== null) || tries > 300) {
      await stop();
      throw new Stop("The web process did not start; the lines above say why.");
    }
    await new Promise((resolve) => setTimeout(resolve, 200));
  }
  return { address, ended: Promise.race(ends), stop };
}
