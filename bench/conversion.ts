import { spawn, type ChildProcess } from "node:child_process";
import { mkdir, mkdtemp, rm } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { openTestStudio } from "#server/testing/testStudio";
import { bundle } from "../bin/parts/bundle.mjs";
import { containersAdd } from "./containersAdd";
import { drawSet } from "./drawSet";
import { handIn, readAll, reviewed, startWorker } from "./studioAtWork";
import { watchMemory } from "./watchMemory";

/**
 * Converting one set of five maps by every profile, in full and reduced, from the request over HTTP to the end of the archive,
 * against bare sharp that does the same decodes, operations and encodes on all cores (`bareConversion`); and taking it in,
 * from the upload to the review, against bare decoding, hashing, previews and the judgement. Memory is that of the worker and its
 * processes, against that of the bare script. Wants DATABASE_URL, and curl.
 */
const PIXELS = Number(process.env.BENCH_PIXELS ?? 4096);
const RUNS = Number(process.env.BENCH_RUNS ?? 2);
const PROFILES = process.env.BENCH_PROFILES?.split(",") ?? [
  "gloss-path-tracer-cm",
  "packed-walkthrough-m",
  "gltf-2",
];
const SIZES = [undefined, PIXELS / 2, PIXELS - 6, PIXELS / 4];

interface Cost {
  seconds: number;
  mib: number;
}

const folder = await mkdtemp(join(tmpdir(), "kalonomy-bench-"));
const studio = await openTestStudio();
let worker: ChildProcess | undefined;
try {
  const files = await drawSet(folder, PIXELS);
  const out = join(folder, "out");
  await mkdir(out);
  await bundle("build/worker");
  worker = await startWorker();
  const pid = worker.pid!;

  const taken = await measured(pid, async () => reviewed(studio, await handIn(studio, files)));
  const [plain, judgement] = [await bare(["intake", ...files]), await bare(["judge", ...files])];
  const both = { seconds: plain.seconds + judgement.seconds, mib: plain.mib };
  say(`taking in, to the review (${judgement.seconds.toFixed(2)} s are the judgement)`, both, taken.cost);
  const { materials } = (await studio.api("POST", `/intakes/${taken.result}/accept`, { all: true })).json;
  const [{ id }] = materials as { id: string }[];
  await studio.api("PUT", `/materials/${id}/repeat`, { method: "size", width: 900 });

  for (const profile of PROFILES)
    for (const maxPixels of SIZES) {
      let proof = Infinity;
      const ours = await best(async () => {
        await forgetMade();
        const made = await measured(pid, () => deliver({ materials: [id], profiles: [profile], maxPixels }));
        // Its proof, which nobody waits for, is not to run beside the next conversion.
        proof = Math.min(proof, await proved(made.result));
        return made.cost;
      });
      const size = Math.min(maxPixels ?? PIXELS, profile === "packed-walkthrough-m" ? 2048 : 4096);
      const other = await best(() => bare(["convert", profile, String(size), out, ...files]));
      say(`${profile}, ${maxPixels === undefined ? "in full" : `to ${maxPixels} px`}`, other, ours);
      console.log(
        `  its proof ${proof.toFixed(2)} s; ratio to the conversion ${(proof / ours.seconds).toFixed(2)}`,
      );
      const added = await containersAdd();
      console.log(
        `  MaterialX, USD, MTL and IFC together add ${(added * 1000).toFixed(1)} ms: ${((100 * added) / ours.seconds).toFixed(2)} % (5 at most)`,
      );
    }
} finally {
  worker?.kill("SIGKILL");
  await studio.close();
  await rm(folder, { recursive: true });
}

function say(what: string, other: Cost, ours: Cost): void {
  const [time, memory] = [ours.seconds / other.seconds, ours.mib / other.mib];
  console.log(
    `${what}: bare ${other.seconds.toFixed(2)} s, ${other.mib.toFixed(0)} MiB; ours ${ours.seconds.toFixed(2)} s, ${ours.mib.toFixed(0)} MiB; ratio ${time.toFixed(2)} (1.5 at most), memory ${memory.toFixed(2)} (1.5 at most)`,
  );
}

async function best(once: () => Promise<Cost>): Promise<Cost> {
  const runs: Cost[] = [];
  for (let run = 0; run < RUNS; run++) runs.push(await once());
  return {
    seconds: Math.min(...runs.map(({ seconds }) => seconds)),
    mib: Math.min(...runs.map(({ mib }) => mib)),
  };
}

async function measured<T>(pid: number, work: () => Promise<T>): Promise<{ result: T; cost: Cost }> {
  const memory = watchMemory(pid);
  const start = performance.now();
  try {
    const result = await work();
    return { result, cost: { seconds: (performance.now() - start) / 1000, mib: memory.peakMib() } };
  } finally {
    memory.stop();
  }
}

/** From the request to the last byte of the archive. */
async function deliver(body: object): Promise<string> {
  const { id } = (await studio.api("POST", "/deliveries", body)).json;
  for (;;) {
    const { state, failure } = (await studio.api("GET", `/deliveries/${id}`)).json;
    if (state === "done") break;
    if (state === "failed") throw new Error(failure);
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
  await readAll(studio, `/deliveries/${id}/archive`);
  return id;
}

/** Seconds from the end of a delivery to the end of its proofs. */
async function proved(id: string): Promise<number> {
  const start = performance.now();
  for (;;) {
    const { items } = (await studio.api("GET", `/deliveries/${id}/proofs`)).json;
    const failed = items.find(({ state }: { state: string }) => state === "failed");
    if (failed) throw new Error(failed.failure);
    if (items.every(({ state }: { state: string }) => state === "done"))
      return (performance.now() - start) / 1000;
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
}

/** So that the next run makes everything again. */
async function forgetMade(): Promise<void> {
  const { database } = await import("#server/db/database");
  await database().query("DELETE FROM derived_files");
}

async function bare(args: string[]): Promise<Cost> {
  const child = spawn(process.execPath, ["--import", "tsx", "bench/bareConversion.ts", ...args], {
    stdio: ["ignore", "pipe", "inherit"],
  });
  const memory = watchMemory(child.pid!);
  let text = "";
  for await (const chunk of child.stdout) text += String(chunk);
  memory.stop();
  const seconds = /seconds ([\d.]+)/.exec(text)?.[1];
  if (!seconds) throw new Error(`The bare script gave no figure: ${text}`);
  return { seconds: Number(seconds), mib: memory.peakMib() };
}
