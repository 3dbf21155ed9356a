import { spawn } from "node:child_process";
import { join } from "node:path";
import { kept } from "./kept.mjs";
import { freePort } from "./freePort.mjs";
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
    // What goes well is not told on the terminal that the demo runs in.
    KALONOMY_LOG: process.env.KALONOMY_LOG ?? "warn",
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
 * Starts the web and the worker process, and the stand-in of the suppliers' service, and waits until the web process
 * answers.
 * @returns a promise that ends when web or worker cannot be kept running, and a function that stops all.
 */
export async function startStudio(given, { quiet = false, isDatabaseAway = () => false } = {}) {
  const supplierPort = String(await freePort());
  const env = { ...given, KALONOMY_SUPPLIERS: `http://127.0.0.1:${supplierPort}` };
  const options = { env, stdio: ["ignore", quiet ? "ignore" : "inherit", "inherit"] };
  // They end with this process, even when that is killed.
  const start = (args) => spawn("setpriv", ["--pdeathsig", "TERM", process.execPath, ...args], options);
  const web = kept("web process", () => start(["server/main/start.mjs"]), isDatabaseAway);
  const worker = kept(
    "worker",
    () => start(["--enable-source-maps", "build/worker/worker.js"]),
    isDatabaseAway,
  );
  // It gets no secrets of the studio, and the studio goes on without it.
  const supplier = kept("suppliers' service", () =>
    spawn("setpriv", ["--pdeathsig", "TERM", process.execPath, ...TSX, "supplier-service/start.ts"], {
      ...options,
      env: {
        PATH: process.env.PATH,
        SUPPLIER_PORT: supplierPort,
        SUPPLIER_FOLDER: join(env.KALONOMY_DATA, "supplier"),
      },
    }),
  );
  const ended = Promise.race([web.givenUp, worker.givenUp]);
  let over = false;
  void ended.then(() => (over = true));
  const address = `http://127.0.0.1:${env.PORT}`;
  const stop = () => Promise.all([web, worker, supplier].map((one) => one.stop()));
  for (let tries = 0; ; tries++) {
    const answer = await fetch(`${address}/readyz`).catch(() => undefined);
    if (answer?.ok) break;
    if (over || tries > 300) {
      await stop();
      throw new Stop("The web process did not start; the lines above say why.");
    }
    await new Promise((resolve) => setTimeout(resolve, 200));
  }
  return { address, ended, stop };
}
