import { gzipSync } from "node:zlib";
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
const { address, web } = await startWeb();
try {
  const { database } = await import("#server/db/database");
  const { beginSession } = await import("#server/auth/sessions");
  const cookie = (await beginSession(studio.person.id)).split(";")[0];
  const taken = await takeIn(studio, { "brick_basecolor.png": await picture("#aa5533", 64) });
  await studio.api("POST", `/intakes/${taken.id}/accept`, { all: true });
  const get = (path: string) => fetch(`${address}${path}`, { headers: { cookie } });
  const measured: Record<string, { ms: number; bytes: number }[]> = {};
  let filled: Filled | undefined;
  for (const size of [FEW, MANY]) {
    filled = await fillStudio(database(), size);
    for (const [name, path] of Object.entries(pagesOf(filled))) {
      const times: number[] = [];
      let bytes = 0;
      for (let run = 0; run < RUNS; run++) {
        const start = performance.now();
        const response = await get(path);
        bytes = (await response.text()).length;
        if (!response.ok) throw new Error(`${path}: ${response.status}`);
        times.push(performance.now() - start);
      }
      (measured[name] ??= []).push({ ms: times.toSorted((a, b) => a - b)[RUNS / 2], bytes });
    }
  }
  console.log(
    `${MANY.materials} materials against ${FEW.materials}, each with ${MANY.collections} collections, ${MANY.projects} projects, ${MANY.people} people (goals: 1.5 × the time, 1.3 × the bytes)`,
  );
  for (const [page, [few, many]] of Object.entries(measured))
    console.log(
      [
        page.padEnd(24),
        `${few.ms.toFixed(0)} ms → ${many.ms.toFixed(0)} ms, ${(many.ms / few.ms).toFixed(2)} ×`.padEnd(28),
        `${(few.bytes / 1000).toFixed(0)} KB → ${(many.bytes / 1000).toFixed(0)} KB, ${(many.bytes / few.bytes).toFixed(2)} ×`,
      ].join(" "),
    );
  const start = performance.now();
  const { json } = await studio.api("POST", `/intakes/${filled!.intake}/accept`, { all: true });
  const seconds = (performance.now() - start) / 1000;
  console.log(`accepting ${json.materials.length} candidates: ${seconds.toFixed(1)} s (10 at most)`);
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
