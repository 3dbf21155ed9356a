import { spawnSync, type ChildProcess } from "node:child_process";
import { mkdtemp, readdir, rm } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { openTestStudio } from "#server/testing/testStudio";
import { bundle } from "../bin/parts/bundle.mjs";
import { makeSets } from "./makeSets";
import { handIn, reviewed, startWorker } from "./studioAtWork";

/**
 * Reading generated sets by one worker and by two, each on a core of its own, from the queue to the review; and how long a mend
 * that somebody asks for meanwhile takes to begin. Wants DATABASE_URL.
 */
const SETS = Number(process.env.BENCH_SETS ?? 60);
const PIXELS = Number(process.env.BENCH_PIXELS ?? 512);

if (process.env.BENCH_FOLDER)
  console.log(JSON.stringify(await readBy(process.env.BENCH_FOLDER, Number(process.env.BENCH_WORKERS))));
else {
  await bundle("build/worker");
  const folder = await mkdtemp(join(tmpdir(), "kalonomy-bench-"));
  try {
    await makeSets(folder, SETS, PIXELS);
    const [one, two] = [1, 2].map((workers) => inProcess(folder, workers));
    console.log(
      `batch of ${SETS} sets, ${PIXELS} px: one worker ${one.seconds.toFixed(1)} s, two workers ${two.seconds.toFixed(1)} s, ratio ${(one.seconds / two.seconds).toFixed(2)} (1.8 at least)`,
    );
    console.log(
      `a mend that is asked for meanwhile begins after ${one.mendSeconds.toFixed(1)} s, and with two workers after ${two.mendSeconds.toFixed(1)} s (2 at most)`,
    );
  } finally {
    await rm(folder, { recursive: true });
  }
}

interface Times {
  seconds: number;
  mendSeconds: number;
}

/** A studio of its own for each run. */
function inProcess(folder: string, workers: number): Times {
  const { stdout } = spawnSync(process.execPath, ["--import", "tsx", "bench/batch.ts"], {
    env: { ...process.env, BENCH_FOLDER: folder, BENCH_WORKERS: String(workers) },
    encoding: "utf8",
    stdio: ["ignore", "pipe", "inherit"],
  });
  return JSON.parse(stdout.trim().split("\n").at(-1)!) as Times;
}

async function readBy(folder: string, workers: number): Promise<Times> {
  const studio = await openTestStudio();
  const running: ChildProcess[] = [];
  try {
    for (let n = 0; n < workers; n++) running.push(await startWorker(n));
    const paths = (await readdir(folder, { recursive: true }))
      .filter((path) => path.endsWith(".png"))
      .sort()
      .map((path) => join(folder, path));
    const material = await accepted(
      await handIn(studio, paths.filter((path) => path.includes("basecolor")).slice(0, 1)),
    );
    const id = await handIn(studio, paths);
    const start = performance.now();
    const state = async () => (await studio.api("GET", `/intakes/${id}`)).json;
    let mendSeconds = NaN;
    for (;;) {
      await new Promise((resolve) => setTimeout(resolve, 100));
      const { state: now, candidates, progress } = await state();
      if (now === "review") {
        if (candidates.length !== SETS)
          throw new Error(`${candidates.length} candidates came of ${SETS} sets.`);
        break;
      }
      if (now !== "reading") throw new Error(`The intake is ${now}.`);
      if (Number.isNaN(mendSeconds) && progress.done > 10) mendSeconds = await mendBegins(material);
    }
    return { seconds: (performance.now() - start) / 1000, mendSeconds };
  } finally {
    for (const child of running) child.kill("SIGKILL");
    await studio.close();
  }

  async function accepted(id: string): Promise<string> {
    return (await studio.api("POST", `/intakes/${await reviewed(studio, id)}/accept`, { all: true })).json
      .materials[0].id;
  }
  async function mendBegins(material: string): Promise<number> {
    const asked = performance.now();
    const { json } = await studio.api("POST", `/materials/${material}/mends`, { kind: "even-out" });
    const { database } = await import("#server/db/database");
    for (;;) {
      const { rows } = await database().query(
        "SELECT 1 FROM graphile_worker.jobs WHERE key = $1 AND locked_at IS NULL",
        [`mend-material:${json.id}`],
      );
      if (rows.length === 0) return (performance.now() - asked) / 1000;
      await new Promise((resolve) => setTimeout(resolve, 20));
    }
  }
}
