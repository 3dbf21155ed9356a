import { spawn } from "node:child_process";
import { setTimeout as wait } from "node:timers/promises";
import { gzipSync } from "node:zlib";
import { openTestStudio, picture, takeIn } from "#server/testing/testStudio";
import { fillLibrary } from "./fillLibrary";
import { ensureBuild } from "../bin/parts/build.mjs";
import { freePort } from "../bin/parts/freePort.mjs";

/**
 * The library's page from the real web process with 20,000 materials against 200, and the weight of its scripts. Wants
 * DATABASE_URL.
 */
const MANY = Number(process.env.BENCH_MATERIALS ?? 20_000);
const FEW = 200;
const RUNS = 30;
const PAGES = ["/library", "/library?q=brick", "/library?size=unknown", "/library?page=3"];

ensureBuild();
const studio = await openTestStudio();
const port = await freePort();
const web = spawn(process.execPath, ["server/start.mjs"], {
  env: { ...process.env, NODE_ENV: "production", KALONOMY_LOG: "fatal", PORT: String(port) },
  stdio: ["ignore", "ignore", "inherit"],
});
try {
  const { database } = await import("#server/db/database");
  const { beginSession } = await import("#server/auth/sessions");
  const cookie = (await beginSession(studio.person.id)).split(";")[0];
  const intake = await takeIn(studio, { "brick_basecolor.png": await picture("#aa5533", 64) });
  await studio.api("POST", `/intakes/${intake.id}/accept`, { all: true });
  const get = (path: string) => fetch(`http://127.0.0.1:${port}${path}`, { headers: { cookie } });
  for (let tries = 0; !(await get("/healthz").catch(() => undefined))?.ok; tries++) {
    if (tries > 100) throw new Error("The web process did not start.");
    await wait(100);
  }
  const times: Record<string, number[]> = {};
  for (const count of [FEW, MANY]) {
    await fillLibrary(database(), count);
    for (const page of PAGES) {
      const all: number[] = [];
      for (let run = 0; run < RUNS; run++) {
        const start = performance.now();
        const response = await get(page);
        await response.text();
        if (!response.ok) throw new Error(`${page}: ${response.status}`);
        all.push(performance.now() - start);
      }
      (times[page] ??= []).push(all.toSorted((a, b) => a - b)[RUNS / 2]);
    }
  }
  for (const [page, [few, many]] of Object.entries(times))
    console.log(
      `${page}: ${FEW} materials ${few.toFixed(0)} ms, ${MANY} materials ${many.toFixed(0)} ms, ratio ${(many / few).toFixed(2)} (2 at most)`,
    );
  await weigh(await (await get("/library")).text(), get);
} finally {
  web.kill("SIGTERM");
  await studio.close();
}

/** All scripts that the page names, compressed as they are sent. */
async function weigh(html: string, get: (path: string) => Promise<Response>): Promise<void> {
  const scripts = new Set([...html.matchAll(/\/assets\/[\w.-]+\.js/g)].map(([path]) => path));
  const manifest = [...scripts].find((path) => path.includes("manifest"));
  let bytes = 0;
  for (const path of scripts) if (path !== manifest) bytes += gzipSync(await (await get(path)).text()).length;
  console.log(
    `scripts of the library's page: ${(bytes / 1000).toFixed(0)} KB compressed in ${scripts.size} files (250 at most)`,
  );
}
