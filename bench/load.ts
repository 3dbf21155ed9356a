import { spawn, type ChildProcess } from "node:child_process";
import { setTimeout as wait } from "node:timers/promises";
import sharp from "sharp";
import { seededRandom } from "#core/pattern/random";
import { openTestStudio, picture, takeIn } from "#server/testing/testStudio";
import { ensureBuild } from "../bin/parts/build.mjs";
import { freePort } from "../bin/parts/freePort.mjs";
import { fillLibrary } from "./fillLibrary";

/**
 * Signed-in people at their screens: one person alone, then many who do one thing every five seconds each, then the same while
 * an intake of a hundred images is read; and how many pages come when many ask without a pause. An act is a page with its data: one
 * in four is loaded anew, the others are gone to from another screen. Wants DATABASE_URL.
 */
const PEOPLE = Number(process.env.BENCH_PEOPLE ?? 200);
const SECONDS = Number(process.env.BENCH_SECONDS ?? 40);
const MATERIALS = Number(process.env.BENCH_MATERIALS ?? 2000);
const EVERY_MS = 5000;
const IMAGES = 100;
const random = seededRandom(Number(process.env.BENCH_SEED ?? 1));

ensureBuild();
const studio = await openTestStudio();
const port = await freePort();
const env = { ...process.env, NODE_ENV: "production", KALONOMY_LOG: "fatal", PORT: String(port) };
const start = (...args: string[]): ChildProcess =>
  spawn(process.execPath, args, { env, stdio: ["ignore", "ignore", "inherit"] });
const web = start("server/main/start.mjs");
let worker: ChildProcess | undefined;
try {
  const { database } = await import("#server/db/database");
  const { beginSession } = await import("#server/auth/sessions");
  const intake = await takeIn(studio, { "brick_basecolor.png": await picture("#aa5533", 64) });
  await studio.api("POST", `/intakes/${intake.id}/accept`, { all: true });
  await fillLibrary(database(), MATERIALS);
  const { rows } = await database().query<{ id: string }>("SELECT id FROM materials LIMIT 200");
  const collection = (await studio.api("POST", "/collections", { name: "Walls" })).json.id;
  const project = (await studio.api("POST", "/projects", { name: "Landing" })).json.id;
  const some = rows.slice(0, 40).map(({ id }) => id);
  await studio.api("PUT", `/collections/${collection}/materials`, { add: some, remove: [] });
  await studio.api("PUT", `/projects/${project}/collections`, { add: [collection], remove: [] });
  const cookies: string[] = [];
  for (let n = 0; n < PEOPLE; n++)
    cookies.push((await beginSession((await studio.addPerson("make")).person.id)).split(";")[0]);

  const pages = () => [
    "/library",
    "/library?q=brick",
    "/library?page=3",
    `/materials/${rows[Math.floor(random() * rows.length)].id}`,
    `/collections/${collection}`,
    `/projects/${project}`,
    "/deliveries",
    "/intakes",
  ];
  const address = (): string => {
    const all = pages();
    const page = all[Math.floor(random() * all.length)];
    if (random() < 0.25) return page;
    const [path, query] = page.split("?");
    return `${path}.data${query ? `?${query}` : ""}`;
  };
  const act = async (cookie: string, path = address()): Promise<number> => {
    const begun = performance.now();
    const response = await fetch(`http://127.0.0.1:${port}${path}`, {
      headers: { cookie, "Accept-Encoding": "gzip" },
    });
    await response.arrayBuffer();
    if (!response.ok) throw new Error(`${path}: ${response.status}`);
    return performance.now() - begun;
  };
  while (!(await fetch(`http://127.0.0.1:${port}/readyz`).catch(() => undefined))?.ok) await wait(100);
  // Both processes and their statements are warm.
  for (let n = 0; n < 150; n++) await act(cookies[n % cookies.length]);

  const alone: number[] = [];
  for (const end = Date.now() + (SECONDS / 2) * 1000; Date.now() < end; await wait(60))
    alone.push(await act(cookies[0]));
  tell("one person alone", alone);
  tell(`${PEOPLE} people, one act in 5 s each`, await together(), alone, 2);

  worker = start("build/worker/worker.js");
  const form = new FormData();
  for (let n = 0; n < IMAGES; n++)
    form.append("files", new Blob([new Uint8Array(await noise(n))]), `wall${n}_basecolor.png`);
  const { id } = (await studio.api("POST", "/intakes", form)).json;
  const busy = await together();
  const { state, progress } = (await studio.api("GET", `/intakes/${id}`)).json;
  tell(
    `the same while ${IMAGES} images are read (${state}, ${progress.done} of ${progress.total})`,
    busy,
    alone,
    4,
  );
  worker.kill("SIGKILL");

  for (const path of ["/library", "/library.data"]) {
    const times: number[] = [];
    const end = Date.now() + 10_000;
    await Promise.all(
      cookies.slice(0, 100).map(async (cookie) => {
        while (Date.now() < end) times.push(await act(cookie, path));
      }),
    );
    console.log(
      `${path}, 100 clients without a pause: ${(times.length / 10).toFixed(0)} a second, p95 ${at(times, 0.95).toFixed(0)} ms`,
    );
  }

  /** Everybody acts once in five seconds, at moments of their own. */
  async function together(): Promise<number[]> {
    const times: number[] = [];
    const end = Date.now() + SECONDS * 1000;
    await Promise.all(
      cookies.map(async (cookie) => {
        await wait(random() * EVERY_MS);
        while (Date.now() < end) {
          const time = await act(cookie);
          times.push(time);
          await wait(Math.max(0, EVERY_MS - time));
        }
      }),
    );
    return times;
  }
} finally {
  web.kill("SIGTERM");
  worker?.kill("SIGKILL");
  await studio.close();
}

function noise(n: number): Promise<Buffer> {
  const grain = { type: "gaussian" as const, mean: 100 + n, sigma: 20 };
  return sharp({ create: { width: 1024, height: 1024, channels: 3, background: "#000", noise: grain } })
    .png()
    .toBuffer();
}

function at(times: number[], share: number): number {
  return times.toSorted((a, b) => a - b)[Math.floor(times.length * share)];
}

function tell(what: string, times: number[], alone?: number[], most?: number): void {
  const p95 = at(times, 0.95);
  const ratio = alone ? `, ${(p95 / at(alone, 0.95)).toFixed(2)} times one person's (${most} at most)` : "";
  console.log(
    `${what}: ${times.length} acts, median ${at(times, 0.5).toFixed(0)} ms, p95 ${p95.toFixed(0)} ms${ratio}`,
  );
}
