import { spawn, spawnSync, type ChildProcess } from "node:child_process";
import { createHash } from "node:crypto";
import { mkdir, mkdtemp, open, rm } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { setTimeout as wait } from "node:timers/promises";
import yauzl from "yauzl";
import { seededRandom } from "#core/pattern/random";
import { ensureBuild } from "../bin/parts/build.mjs";
import { openDataFolder } from "../bin/parts/dataFolder.mjs";
import { freePort } from "../bin/parts/freePort.mjs";
import { startPostgres } from "../bin/parts/postgres.mjs";

/**
 * Kills web processes, workers and PostgreSQL at random moments, fills the disk and makes the data folder read-only, while textures are
 * taken in and delivered, and then checks that nothing acknowledged is lost, nothing half-written is shown or delivered, and
 * every job has ended. There are two web processes and two workers. The disk is a file system in memory of its own, which needs root;
 * without, it is left alone.
 */
const KILLS = Number(process.env.BENCH_KILLS ?? 300);
const CLIENTS = 3;
const random = seededRandom(Number(process.env.BENCH_SEED ?? 1));
const HOUR_MS = 3600_000;
/** What a disk did is said as such, and can be asked for again; any other failure is a trouble. */
const OF_THE_DISK =
  /^The d(isk|ata folder) |destination “.*” (is full|can only be read)|went wrong in the worker/;

const parent = await mkdtemp(join(tmpdir(), "kalonomy-kills-"));
const data = openDataFolder(parent);
const folder = join(parent, "studio");
await mkdir(folder);
/** Room for what is made between so many blows; a disk that is full for good would only be looked at. */
const DISK_MIB = 400 + 2 * KILLS;
const hasDisk = spawnSync("mount", ["-t", "tmpfs", "-o", `size=${DISK_MIB}m`, "tmpfs", folder]).status === 0;
const [dbPort, webPort] = [await freePort(), await freePort()];
let postgres = await startPostgres(data, { port: dbPort });
ensureBuild();
Object.assign(process.env, {
  NODE_ENV: "production",
  DATABASE_URL: postgres.url,
  KALONOMY_DATA: folder,
  KALONOMY_WEB_PROCESSES: "2",
  KALONOMY_SECRET: data.secrets.cookies,
  KALONOMY_LOG: "fatal",
  PORT: String(webPort),
});
const { prepareDatabase } = await import("#server/main/prepare");
const { database, closeDatabase } = await import("#server/db/database");
const { insertPerson } = await import("#server/people/writes");
const { insertToken } = await import("#server/auth/writes");
const { makeSecret } = await import("#server/auth/tokens");
const { fileStore } = await import("#server/store/store");
const { verifyFiles } = await import("#server/upkeep/verifyFiles");
await prepareDatabase(postgres.url);
const token = makeSecret("token");
const person = await insertPerson(database(), {
  name: "Bench",
  email: "bench@studio.example",
  level: "keep",
  passwordHash: "-",
});
await insertToken(database(), { person: person.id, name: "bench", hash: token.hash });

let closing = false;
const WORKER = ["build/worker/worker.js"];
const web = keepRunning(["server/main/start.mjs"]);
const workers = [keepRunning(WORKER), keepRunning(WORKER)];

// eslint-disable-next-line @typescript-eslint/no-explicit-any -- answers of all calls
type Answer = any;

/** What the studio has said it did. */
const acknowledged = { intakes: [] as string[], materials: [] as string[], deliveries: [] as string[] };
const counts = { web: 0, worker: 0, postgres: 0, full: 0, readOnly: 0 };
const sum = () => Object.values(counts).reduce((a, b) => a + b, 0);
let [archives, refusals, askedAgain] = [0, 0, 0];
const troubles: string[] = [];

const clients = Array.from({ length: CLIENTS }, (_, i) => client(i));
while (sum() < KILLS) {
  if (sum() % 20 === 0)
    console.log(
      `${sum()} blows; ${acknowledged.materials.length} materials and ${acknowledged.deliveries.length} deliveries so far, ${troubles.length} troubles`,
    );
  await wait(500 + random() * 6500);
  const pick = random();
  if (pick < 0.36) {
    counts.web++;
    // The first of the web processes, with which all go, or one of those behind it.
    if (random() < 0.4) web.kill();
    else web.killOneBehind();
  } else if (pick < 0.72) {
    counts.worker++;
    workers[random() < 0.5 ? 0 : 1].kill();
  } else if (pick < 0.86 || !hasDisk) {
    counts.postgres++;
    await postgres.kill();
    postgres = await restartPostgres();
  } else if (pick < 0.93) {
    counts.full++;
    await fillDisk();
  } else {
    counts.readOnly++;
    spawnSync("mount", ["-o", "remount,ro", folder]);
    await wait(500 + random() * 3000);
    spawnSync("mount", ["-o", "remount,rw", folder]);
  }
}
closing = true;
await Promise.all(clients);
await untilQuiet();
await check();
await Promise.all([web, ...workers].map((one) => one.stop()));
await closeDatabase();
await postgres.stop();
if (hasDisk) spawnSync("umount", ["-l", folder]);
await rm(parent, { recursive: true, force: true });

const total = `${counts.web} of web processes, ${counts.worker} of workers, ${counts.postgres} of PostgreSQL, ${counts.full} times a full disk, ${counts.readOnly} times a read-only one`;
console.log(
  `blows: ${KILLS} (${total}); acknowledged: ${acknowledged.intakes.length} intakes, ${acknowledged.materials.length} materials, ${acknowledged.deliveries.length} deliveries, ${archives} archives checked; ${refusals} requests broke off and were sent again, ${askedAgain} readings and deliveries asked for again after a disk`,
);
for (const trouble of troubles) console.log(`trouble: ${trouble}`);
console.log(
  troubles.length === 0
    ? "nothing lost, nothing half-written, every job ended"
    : `${troubles.length} troubles`,
);
process.exit(troubles.length === 0 ? 0 : 1);

/** Takes in, accepts, sizes and delivers, again and again. What was not acknowledged is done anew. */
async function client(number: number): Promise<void> {
  for (let round = 0; !closing; round++) {
    const name = `wall${number}x${round}`;
    const { id } = await insist("POST", "/intakes", () => upload(name));
    acknowledged.intakes.push(id);
    if (!(await isRead(id))) continue;
    await insist("POST", `/intakes/${id}/accept`, () => JSON.stringify({ all: true }));
    const { items } = await insist("GET", `/materials?q=${name}`);
    // Accepting is asked for again where its answer was lost, and must not make a second material.
    if (items.length !== 1) troubles.push(`${items.length} materials of ${name}`);
    if (items.length === 0) continue;
    const material: string = items[0].id;
    acknowledged.materials.push(material);
    await insist("PUT", `/materials/${material}/repeat`, () =>
      JSON.stringify({ method: "size", width: 600 }),
    );
    const delivery = await insist("POST", "/deliveries", () =>
      JSON.stringify({ materials: [material], profiles: ["gltf-2"] }),
    );
    await isDelivered(delivery.id);
  }
}

async function isRead(id: string): Promise<boolean> {
  for (;;) {
    const { state, failure } = await reach(`/intakes/${id}`, ["review", "accepted", "failed"]);
    if (state !== "failed") return true;
    if (!OF_THE_DISK.test(failure)) {
      troubles.push(`intake ${id} failed: ${failure}`);
      return false;
    }
    askedAgain++;
    await insist("POST", `/intakes/${id}/hold`, () => JSON.stringify({ wish: "read-again" }));
  }
}

async function isDelivered(first: string): Promise<void> {
  for (let id = first; ;) {
    const { state, failure } = await reach(`/deliveries/${id}`, ["done", "failed"]);
    if (state === "done") return void acknowledged.deliveries.push(id);
    if (!OF_THE_DISK.test(failure)) return void troubles.push(`delivery ${id} failed: ${failure}`);
    askedAgain++;
    id = (await insist("POST", `/deliveries/${id}/again`)).id;
  }
}

/** Writes until nothing more fits, waits, and makes room again. */
async function fillDisk(): Promise<void> {
  const path = join(folder, "ballast");
  const handle = await open(path, "w");
  const block = Buffer.alloc(4 * 2 ** 20);
  try {
    for (let mib = 0; mib < 2 * DISK_MIB; mib += 4) await handle.write(block);
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== "ENOSPC") throw error;
  } finally {
    await handle.close();
  }
  await wait(500 + random() * 3000);
  await rm(path);
}

/** Three maps of one set, whose content no other set has. */
async function upload(name: string): Promise<FormData> {
  const { default: sharp } = await import("sharp");
  const form = new FormData();
  for (const [role, tone] of [
    ["basecolor", 90],
    ["roughness", 160],
    ["ao", 220],
  ] as const) {
    const noise = { type: "gaussian" as const, mean: tone, sigma: 20 };
    const png = await sharp({ create: { width: 256, height: 256, channels: 3, background: "#000", noise } })
      .png()
      .toBuffer();
    form.append("files", new Blob([new Uint8Array(png)]), `${name}_${role}.png`);
  }
  return form;
}

/** A request that is sent until it is answered; an answer that refuses is a trouble. */
async function insist(
  method: string,
  path: string,
  body?: () => string | FormData | Promise<FormData>,
): Promise<Answer> {
  for (;;) {
    const sent = await body?.();
    const headers = new Headers({ Authorization: `Bearer ${token.secret}` });
    if (typeof sent === "string") headers.set("Content-Type", "application/json");
    try {
      const response = await fetch(`http://127.0.0.1:${webPort}/api/v1${path}`, {
        method,
        headers,
        body: sent,
      });
      const text = await response.text();
      if (response.ok) return JSON.parse(text);
      // While the database is away.
      if (response.status < 500) {
        // Its first sending went through, and only the answer was lost.
        if (response.status === 409 && /\/(accept|hold)$/.test(path)) return {};
        throw new Error(`${method} ${path}: ${response.status} ${text}`);
      }
    } catch (error) {
      if (!(error instanceof TypeError || error instanceof SyntaxError || isCut(error))) throw error;
    }
    refusals++;
    await wait(300);
  }
}

const isCut = (error: unknown) => /ECONN|socket|terminated/i.test(String((error as Error).message));

async function reach(path: string, states: string[]): Promise<Answer> {
  const deadline = Date.now() + HOUR_MS / 6;
  while (Date.now() < deadline) {
    const answer = await insist("GET", path);
    if (states.includes(answer.state)) return answer;
    await wait(400);
  }
  const answer = await insist("GET", path);
  return { state: "failed", failure: `it stays ${answer.state}` };
}

function keepRunning(args: string[]) {
  let child: ChildProcess;
  let stopped = false;
  const begin = () => {
    child = spawn("setpriv", ["--pdeathsig", "KILL", process.execPath, ...args], {
      stdio: ["ignore", "ignore", "inherit"],
    });
    child.on("exit", () => setTimeout(() => stopped || begin(), 300));
  };
  begin();
  return {
    kill: () => child.kill("SIGKILL"),
    killOneBehind() {
      const found = spawnSync("pgrep", ["-P", String(child.pid)], { encoding: "utf8" })
        .stdout.trim()
        .split("\n");
      const one = found[Math.floor(random() * found.length)];
      if (one) spawnSync("kill", ["-9", one]);
    },
    stop() {
      stopped = true;
      const ended = new Promise((resolve) => child.once("exit", resolve));
      child.kill("SIGTERM");
      return ended;
    },
  };
}

/** What is left of a killed server needs a moment to let go of its memory. */
async function restartPostgres() {
  for (let tries = 0; ; tries++) {
    try {
      return await startPostgres(data, { port: dbPort });
    } catch (error) {
      if (tries > 20) throw error;
      await wait(500);
    }
  }
}

/** No job waits or runs; a dead worker's jobs are taken over after a while. */
async function untilQuiet(): Promise<void> {
  const deadline = Date.now() + 5 * 60_000;
  for (;;) {
    const { queue } = await insist("GET", "/upkeep");
    const open = queue.reduce(
      (sum: number, one: { waiting: number; running: number }) => sum + one.waiting + one.running,
      0,
    );
    if (open === 0) return;
    if (Date.now() > deadline) return void troubles.push(`the queue still holds ${JSON.stringify(queue)}`);
    await wait(1000);
  }
}

async function check(): Promise<void> {
  const { files, missing, damaged } = await verifyFiles(database(), fileStore());
  console.log(`${files} files verified`);
  for (const sha256 of [...missing, ...damaged]) troubles.push(`file ${sha256} is missing or damaged`);
  for (const id of acknowledged.intakes) {
    const { state } = await insist("GET", `/intakes/${id}`);
    if (!["accepted", "review"].includes(state)) troubles.push(`intake ${id} is ${state}`);
  }
  for (const id of new Set(acknowledged.materials)) {
    const { maps, repeat } = await insist("GET", `/materials/${id}`);
    if (maps.length !== 3) troubles.push(`material ${id} has ${maps.length} maps`);
    if (repeat?.width !== 600) troubles.push(`material ${id} has the size ${JSON.stringify(repeat)}`);
  }
  for (const id of acknowledged.deliveries) {
    const { state, account } = await insist("GET", `/deliveries/${id}`);
    if (state !== "done") troubles.push(`delivery ${id} is ${state}`);
    else await checkArchive(id, account);
  }
  // What nobody was told of may be there, but not half-way.
  const { rows } = await database().query<{ state: string; count: number }>(
    "SELECT state, count(*)::int AS count FROM intakes WHERE state IN ('receiving', 'reading') GROUP BY state",
  );
  for (const { state, count } of rows) troubles.push(`${count} intakes are ${state} for ever`);
  const { rows: failed } = await database().query<{ kind: string; last_error: string }>(
    "SELECT task_identifier AS kind, last_error FROM graphile_worker.jobs",
  );
  for (const { kind, last_error } of failed)
    troubles.push(`job ${kind} is left: ${last_error?.split("\n")[0]}`);
}

/** Every file that the account names is in the archive, with its hash. */
async function checkArchive(
  id: string,
  account: { materials: { files: { path: string; sha256: string }[] }[] },
): Promise<void> {
  const response = await fetch(`http://127.0.0.1:${webPort}/api/v1/deliveries/${id}/archive`, {
    headers: { Authorization: `Bearer ${token.secret}` },
  });
  const hashes = await hashesOf(Buffer.from(await response.arrayBuffer())).catch((error: Error) => error);
  if (hashes instanceof Error) return void troubles.push(`archive of ${id}: ${hashes.message}`);
  archives++;
  for (const { path, sha256 } of account.materials.flatMap(({ files }) => files))
    if (hashes.get(path) !== sha256) troubles.push(`archive of ${id}: ${path} is not what the account says`);
}

function hashesOf(zip: Buffer): Promise<Map<string, string>> {
  const hashes = new Map<string, string>();
  return new Promise((resolve, reject) => {
    yauzl.fromBuffer(zip, { lazyEntries: true }, (error, archive) => {
      if (error) return reject(error);
      archive.on("error", reject);
      archive.on("end", () => resolve(hashes));
      archive.on("entry", (entry: yauzl.Entry) => {
        archive.openReadStream(entry, (failed, stream) => {
          if (failed) return reject(failed);
          const hash = createHash("sha256");
          stream.on("error", reject);
          stream.on("data", (chunk: Buffer) => hash.update(chunk));
          stream.on("end", () => {
            hashes.set(entry.fileName, hash.digest("hex"));
            archive.readEntry();
          });
        });
      });
      archive.readEntry();
    });
  });
}
