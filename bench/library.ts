import type { ChildProcess } from "node:child_process";
import { gzipSync } from "node:zlib";
import pg from "pg";
import { openTestStudio, picture, takeIn } from "#server/testing/testStudio";
import { fillStudio, type Filled, type StudioSize } from "./fillStudio";
import { ensureBuild } from "../bin/parts/build.mjs";
import { startWeb } from "./studioAtWork";

/**
 * Every page from the real web process, of a large studio against a small one: time and weight; accepting a thousand candidates;
 * and the scripts of the library's page. Wants DATABASE_URL.
 */
const FEW: StudioSize = {
  materials: 200,
  collections: 300,
  perCollection: 60,
  projects: 30,
  people: 200,
  intakes: 60,
  filesOfIntake: 20,
  candidates: 25,
};
const MANY: StudioSize = {
  materials: Number(process.env.BENCH_MATERIALS ?? 100_000),
  collections: 300,
  perCollection: 300,
  projects: 30,
  people: 200,
  intakes: 60,
  filesOfIntake: 2000,
  candidates: 1000,
};
const RUNS = 20;
/** First looks, which are not counted: at statements that are not prepared yet, and code that is not compiled. */
const WARMING = 5;

interface Seen {
  times: number[];
  bytes: number;
}

const pagesOf = ({ collection, project, material, intake }: Filled) => ({
  "/library": "/library",
  "/library?q=brick": "/library?q=brick",
  "/library?size=unknown": "/library?size=unknown",
  "/library?page=3": "/library?page=3",
  "/materials/:id": `/materials/${material}`,
  "/materials/:id/uses": `/materials/${material}/uses`,
  "/collections": "/collections",
  "/collections/:id": `/collections/${collection}`,
  "/projects": "/projects",
  "/projects/:id": `/projects/${project}`,
  "/deliveries": "/deliveries",
  "/intakes": "/intakes",
  "/intakes/:id": `/intakes/${intake}`,
  "/people": "/people",
});

ensureBuild();
const studio = await openTestStudio();
const small = new URL(process.env.DATABASE_URL!);
small.pathname += "_small";
const admin = new pg.Client({ connectionString: process.env.KALONOMY_TEST_DATABASE_URL });
await admin.connect();
const webs: ChildProcess[] = [];
try {
  const { closeDatabase, database, inTransaction } = await import("#server/db/database");
  const { beginSession } = await import("#server/auth/sessions");
  const cookie = (await beginSession(studio.person.id)).split(";")[0];
  const taken = await takeIn(studio, { "brick_basecolor.png": await picture("#aa5533", 64) });
  await studio.api("POST", `/intakes/${taken.id}/accept`, { all: true });
  const few = await fillStudio(database(), FEW);
  // Both are there at the same time, and asked in turns: what else the machine does falls on both.
  await closeDatabase();
  await admin.query(
    `CREATE DATABASE ${nameOf(small)} TEMPLATE ${nameOf(new URL(process.env.DATABASE_URL!))}`,
  );
  const many = await fillStudio(database(), MANY);
  const studios = [];
  for (const [filled, url] of [
    [few, small.href],
    [many, process.env.DATABASE_URL!],
  ] as const) {
    const { address, web } = await startWeb(url);
    webs.push(web);
    studios.push({ pages: Object.entries(pagesOf(filled)), address });
  }
  const get = (url: string) => fetch(url, { headers: { cookie } });
  const look = async (url: string) => {
    const start = performance.now();
    const response = await get(url);
    const bytes = (await response.text()).length;
    if (!response.ok) throw new Error(`${url}: ${response.status}`);
    return { bytes, ms: performance.now() - start };
  };
  const measured: [string, Seen, Seen][] = [];
  for (const [n, [name]] of studios[0].pages.entries()) {
    const seen: Seen[] = studios.map(() => ({ times: [], bytes: 0 }));
    for (let run = -WARMING; run < RUNS; run++)
      for (const [which, { address, pages }] of studios.entries()) {
        const { bytes, ms } = await look(address + pages[n][1]);
        seen[which].bytes = bytes;
        if (run >= 0) seen[which].times.push(ms);
      }
    measured.push([name, seen[0], seen[1]]);
  }
  console.log(
    `${MANY.materials} materials against ${FEW.materials}, each with ${MANY.collections} collections, ${MANY.projects} projects, ${MANY.people} people (goals: 1.5 × the time, 1.3 × the bytes)`,
  );
  for (const [page, small, large] of measured)
    console.log(
      [
        page.padEnd(24),
        `${middle(small).toFixed(0)} ms → ${middle(large).toFixed(0)} ms, ${(middle(large) / middle(small)).toFixed(2)} ×`.padEnd(
          28,
        ),
        `${(small.bytes / 1000).toFixed(0)} KB → ${(large.bytes / 1000).toFixed(0)} KB, ${(large.bytes / small.bytes).toFixed(2)} ×`,
      ].join(" "),
    );
  const { acceptCandidates } = await import("#server/intake/accept");
  const start = performance.now();
  const { materials } = await inTransaction((db) => acceptCandidates(db, many.intake, "all", studio.person));
  const seconds = (performance.now() - start) / 1000;
  console.log(`accepting ${materials.length} candidates: ${seconds.toFixed(1)} s (10 at most)`);
  const { address } = studios[1];
  await weigh(await (await get(`${address}/library`)).text(), (path) => get(address + path));
} finally {
  for (const web of webs) web.kill("SIGTERM");
  await admin.query(`DROP DATABASE IF EXISTS ${nameOf(small)} WITH (FORCE)`);
  await admin.end();
  await studio.close();
}

function middle({ times }: Seen): number {
  return times.toSorted((a, b) => a - b)[RUNS / 2];
}

function nameOf(url: URL): string {
  return url.pathname.slice(1);
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
