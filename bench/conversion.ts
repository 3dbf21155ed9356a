import { spawnSync } from "node:child_process";
import { mkdir, mkdtemp, readFile, rm, writeFile } from "node:fs/promises";
import { tmpdir } from "node:os";
import { basename, join } from "node:path";
import sharp, { type Sharp } from "sharp";
import { openTestStudio, takeIn } from "#server/testing/testStudio";
import type { ConvertTask } from "#server/pool/poolTasks";
import { drawSet } from "./drawSet";

/**
 * Converting one set of five maps to the gloss profile, and taking it in (hash, reading, previews), each against a bare
 * script of sharp that does the same decodes, operations and encodes; and the conversion by ImageMagick's commands. Each run is a
 * process of its own. Wants DATABASE_URL.
 */
const PIXELS = Number(process.env.BENCH_PIXELS ?? 4096);
const RUNS = Number(process.env.BENCH_RUNS ?? 3);

/** Sizes that the set is reduced to; what is not reduced comes first. */
const SIZES = [undefined, 4090, 2048, 1024];

interface Job {
  files: string[];
  tasks: Omit<ConvertTask, "to">[];
  out: string;
  /** Longest side that is delivered; undefined: as it is. */
  maxPixels?: number;
}

async function parent(): Promise<void> {
  const folder = await mkdtemp(join(tmpdir(), "kalonomy-bench-"));
  const studio = await openTestStudio();
  try {
    const files = await drawSet(folder, PIXELS);
    const out = join(folder, "out");
    await mkdir(out);
    const plan = await planner(files);
    const path = join(folder, "job.json");
    const best = (name: string) => {
      const runs = Array.from({ length: RUNS }, () => inProcess(name, path));
      return {
        seconds: Math.min(...runs.map((run) => run.seconds)),
        mib: Math.min(...runs.map((run) => run.mib)),
      };
    };
    let whole = 0;
    for (const maxPixels of SIZES) {
      const job: Job = { files, tasks: await plan(maxPixels), out, maxPixels };
      await writeFile(path, JSON.stringify(job));
      const [bare, ours] = [best("bare-convert"), best("convert")];
      whole ||= ours.seconds;
      console.log(
        `converting ${PIXELS} px, five maps, gloss profile, ${maxPixels === undefined ? "in full" : `to ${maxPixels} px`}: bare sharp ${bare.seconds.toFixed(2)} s, ${bare.mib.toFixed(0)} MiB; ours ${ours.seconds.toFixed(2)} s, ${ours.mib.toFixed(0)} MiB; ratio ${(ours.seconds / bare.seconds).toFixed(2)} (1.5 at most), memory ${(ours.mib / bare.mib).toFixed(2)} (1.5 at most)`,
      );
    }
    await writeFile(path, JSON.stringify({ files, tasks: await plan(undefined), out }));
    if (spawnSync("/usr/bin/convert", ["-version"]).status === 0) {
      const { seconds } = inProcess("magick", path);
      console.log(
        `  ImageMagick's commands ${seconds.toFixed(2)} s: ours is ${(seconds / whole).toFixed(2)} times as fast (3 at least)`,
      );
    } else console.log("  ImageMagick is not installed, and was not compared with");
    const [plain, intake] = [best("bare-intake"), best("intake")];
    console.log(
      `taking in ${PIXELS} px, five maps: bare sharp ${plain.seconds.toFixed(2)} s, ours ${intake.seconds.toFixed(2)} s, ratio ${(intake.seconds / plain.seconds).toFixed(2)} (1.4 at most)`,
    );
  } finally {
    await studio.close();
    await rm(folder, { recursive: true });
  }

  /** What a delivery of the set would do, as the studio plans it. */
  async function planner(files: string[]): Promise<(maxPixels: number | undefined) => Promise<Job["tasks"]>> {
    const contents = Object.fromEntries(
      await Promise.all(files.map(async (path) => [basename(path), await readFile(path)] as const)),
    );
    const intake = await takeIn(studio, contents);
    await studio.api("POST", `/intakes/${intake.id}/accept`, { all: true });
    const [{ id }] = (await studio.api("GET", "/materials")).json.items;
    await studio.api("PUT", `/materials/${id}/repeat`, { method: "size", width: 900 });
    const { planDelivery } = await import("#server/delivery/plan");
    const { maps } = (await studio.api("GET", `/materials/${id}`)).json as {
      maps: { sha256: string; file: string }[];
    };
    const sources = Object.fromEntries(
      maps.map(({ sha256, file }) => [
        sha256,
        {
          path: files.find((path) => basename(path) === file)!,
          format: file.endsWith("jpg") ? "jpeg" : "png",
        },
      ]),
    );
    return async (maxPixels) => {
      const profiles = ["gloss-path-tracer-cm"];
      const [plan] = await planDelivery({ materials: [id], profiles, maxPixels });
      return plan.files.map((file) => ({ file, sources, wrap: true }));
    };
  }
}

function inProcess(name: string, path: string): { seconds: number; mib: number } {
  const run = spawnSync(process.execPath, ["--import", "tsx", "bench/conversion.ts", name, path], {
    encoding: "utf8",
    stdio: ["ignore", "pipe", "inherit"],
  });
  const [, seconds, mib] = /seconds ([\d.]+) mib ([\d.]+)/.exec(run.stdout) ?? [];
  if (!seconds) throw new Error(`${name} gave no figure: ${run.stdout}`);
  return { seconds: Number(seconds), mib: Number(mib) };
}

async function child(name: string, { files, tasks, out, maxPixels }: Job): Promise<void> {
  const { convert } = await import("#server/pool/poolTasks");
  const { study } = await import("#server/pixels/study");
  const start = performance.now();
  if (name === "convert")
    for (const task of tasks) await convert({ ...task, to: join(out, basename(task.file.path)) });
  else if (name === "bare-convert") await bareConvert(files, out, maxPixels);
  else if (name === "magick") magickConvert(files, out);
  else if (name === "intake")
    for (const path of files) {
      await hashed(path);
      const { previews, small } = await study({ path, mebibytes: 4096 });
      for (const { part, data } of previews) await writeFile(join(out, `${basename(path)}-${part}`), data);
      await writeFile(join(out, `${basename(path)}-small`), small);
    }
  else await bareIntake(files, out);
  const seconds = (performance.now() - start) / 1000;
  // Not by resourceUsage: its peak is the parent's, where that is higher.
  const peak = /VmHWM:\s+(\d+)/.exec(await readFile("/proc/self/status", "utf8"))?.[1];
  console.log(`seconds ${seconds} mib ${Number(peak) / 1024}`);
}

const named = (files: string[], word: string) => files.find((path) => basename(path).includes(word))!;
const DEEP = { compression: "deflate", predictor: "horizontal" } as const;

/**
 * The same files as the profile's, by libvips alone: colour reduced in linear light by a tent. It renormalises no vectors, and what
 * the normal map loses does not go into the gloss: both cost us alone.
 */
async function bareConvert(files: string[], out: string, size: number | undefined): Promise<void> {
  const at = (name: string) => join(out, name);
  const reduced = (image: Sharp) =>
    size === undefined ? image : image.resize({ width: size, height: size, fit: "inside", kernel: "linear" });
  const occlusion =
    size === undefined
      ? named(files, "ao")
      : await reduced(sharp(named(files, "ao")))
          .png()
          .toBuffer();
  const color = sharp(named(files, "basecolor"));
  await (size === undefined ? color : reduced(color.pipelineColourspace("scrgb")).toColourspace("srgb"))
    .composite([{ input: occlusion, blend: "multiply" }])
    .png({ compressionLevel: 6 })
    .toFile(at("color.png"));
  await reduced(sharp(named(files, "gloss")))
    .toColourspace("b-w")
    .png({ compressionLevel: 6 })
    .toFile(at("gloss.png"));
  await reduced(sharp(named(files, "normal")))
    .linear([1, -1, 1], [0, 65_535, 0])
    .toColourspace("rgb16")
    .tiff(DEEP)
    .toFile(at("normal.tif"));
  await reduced(sharp(named(files, "height")))
    .toColourspace("grey16")
    .tiff(DEEP)
    .toFile(at("height.tif"));
}

function magickConvert(files: string[], out: string): void {
  const run = (args: string[]) => {
    const { status, stderr } = spawnSync("/usr/bin/convert", args, { encoding: "utf8" });
    if (status !== 0) throw new Error(stderr);
  };
  const at = (name: string) => join(out, name);
  const deep = ["-define", "tiff:predictor=2", "-compress", "zip"];
  run([named(files, "basecolor"), named(files, "ao"), "-compose", "multiply", "-composite", at("color.png")]);
  run([named(files, "gloss"), at("gloss.png")]);
  run([named(files, "normal"), "-channel", "G", "-negate", "+channel", ...deep, at("normal.tif")]);
  run([named(files, "height"), ...deep, at("height.tif")]);
}

async function hashed(path: string): Promise<void> {
  const { hashOf } = await import("#server/store/hashOf");
  await hashOf(path);
}

/** Decodes each file once and writes previews of the same sizes and kinds. */
async function bareIntake(files: string[], out: string): Promise<void> {
  for (const path of files) {
    await hashed(path);
    const color = path.endsWith(".jpg");
    const { data, info } = await sharp(path)
      .raw({ depth: color ? "uchar" : "ushort" })
      .toBuffer({ resolveWithObject: true });
    let from: Buffer | Uint16Array = color
      ? data
      : new Uint16Array(data.buffer, data.byteOffset, data.length / 2);
    let raw = { width: info.width, height: info.height, channels: info.channels };
    for (const size of [4096, 1024, 256, 64]) {
      let image = sharp(from, { raw, limitInputPixels: false });
      if (!color) image = image.toColourspace(raw.channels < 3 ? "grey16" : "rgb16");
      if (color) image = image.pipelineColourspace("scrgb");
      const small = image.resize({ width: size, height: size, fit: "inside", kernel: "mks2013" });
      const next = await small
        .clone()
        .raw({ depth: color ? "uchar" : "ushort" })
        .toBuffer({ resolveWithObject: true });
      from = color
        ? next.data
        : new Uint16Array(next.data.buffer, next.data.byteOffset, next.data.length / 2);
      raw = { width: next.info.width, height: next.info.height, channels: next.info.channels };
      const shown = sharp(from, { raw, limitInputPixels: false });
      await (
        color
          ? shown.webp({ quality: 90, smartSubsample: true, effort: 2 })
          : shown.png({ compressionLevel: 3 })
      ).toFile(join(out, `${basename(path)}-${size}`));
    }
  }
}

const [mode, jobFile] = process.argv.slice(2);
if (mode) await child(mode, JSON.parse(await readFile(jobFile, "utf8")) as Job);
else await parent();
