import { spawnSync } from "node:child_process";
import { mkdtemp, readFile, rm } from "node:fs/promises";
import { tmpdir } from "node:os";
import { basename, join } from "node:path";
import { openTestStudio } from "#server/testing/testStudio";
import { makeSets } from "./makeSets";

/** Reading generated sets with one thread and with two, each in a process of its own. Wants DATABASE_URL. */
const SETS = Number(process.env.BENCH_SETS ?? 60);
const PIXELS = Number(process.env.BENCH_PIXELS ?? 512);

if (process.env.BENCH_FOLDER) console.log(`seconds ${await readAll(process.env.BENCH_FOLDER)}`);
else {
  const folder = await mkdtemp(join(tmpdir(), "kalonomy-bench-"));
  try {
    await makeSets(folder, SETS, PIXELS);
    const [one, two] = [1, 2].map((threads) => inProcess(folder, threads));
    console.log(
      `batch of ${SETS} sets, ${PIXELS} px: one thread ${one.toFixed(1)} s, two threads ${two.toFixed(1)} s, ratio ${(one / two).toFixed(2)} (1.7 at least)`,
    );
  } finally {
    await rm(folder, { recursive: true });
  }
}

function inProcess(folder: string, threads: number): number {
  const run = spawnSync(process.execPath, ["--import", "tsx", "bench/batch.ts"], {
    env: { ...process.env, BENCH_FOLDER: folder, KALONOMY_THREADS: String(threads) },
    encoding: "utf8",
    stdio: ["ignore", "pipe", "inherit"],
  });
  const seconds = Number(/seconds ([\d.]+)/.exec(run.stdout)?.[1]);
  if (!(seconds > 0)) throw new Error(`The run with ${threads} threads gave no figure: ${run.stdout}`);
  return seconds;
}

async function readAll(folder: string): Promise<number> {
  const { readdir } = await import("node:fs/promises");
  const studio = await openTestStudio();
  try {
    const form = new FormData();
    for (const entry of await readdir(folder, { recursive: true, withFileTypes: true }))
      if (entry.isFile()) {
        const path = join(entry.parentPath, entry.name);
        form.append("files", new Blob([new Uint8Array(await readFile(path))]), basename(path));
      }
    const { json } = await studio.api("POST", "/intakes", form);
    const { readIntake } = await import("#server/intake/stages/read");
    const start = performance.now();
    await readIntake(json.id as string);
    const seconds = (performance.now() - start) / 1000;
    const intake = (await studio.api("GET", `/intakes/${json.id}`)).json;
    if (intake.candidates.length !== SETS)
      throw new Error(`${intake.candidates.length} candidates came of ${SETS} sets.`);
    return seconds;
  } finally {
    await studio.close();
  }
}
