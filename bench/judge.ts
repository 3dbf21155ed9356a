import { mkdtemp, rm } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import sharp from "sharp";
import { drawSet } from "./drawSet";
import { decodeSet, judgeSet } from "./judgeSet";

/** Full judgement of one 4096 × 4096 set of five maps against bare decoding of its files, in one run. */
const PIXELS = Number(process.env.BENCH_PIXELS ?? 4096);
const RUNS = 3;

const folder = await mkdtemp(join(tmpdir(), "kalonomy-bench-"));
try {
  const files = await drawSet(folder, PIXELS);
  const bare: number[] = [];
  const full: number[] = [];
  for (let run = 0; run < RUNS; run++) {
    bare.push(await timed(() => bareDecode(files)));
    full.push(await timed(async () => judgeSet(await decodeSet(files))));
  }
  const [a, b] = [Math.min(...bare), Math.min(...full)];
  console.log(
    `judge ${PIXELS} px, five maps: bare decoding ${a.toFixed(2)} s, full judgement ${b.toFixed(2)} s, ratio ${(b / a).toFixed(2)} (3 at most)`,
  );
  console.log(`peak memory of the process: ${(process.resourceUsage().maxRSS / 1024).toFixed(0)} MiB`);
} finally {
  await rm(folder, { recursive: true });
}

async function bareDecode(files: string[]): Promise<void> {
  for (const path of files) {
    const { depth } = await sharp(path).metadata();
    await sharp(path)
      .raw({ depth: depth === "ushort" ? "ushort" : "uchar" })
      .toBuffer();
  }
}

async function timed(work: () => Promise<void>): Promise<number> {
  const start = performance.now();
  await work();
  return (performance.now() - start) / 1000;
}
