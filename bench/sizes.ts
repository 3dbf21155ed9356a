import { mkdtemp, rm, writeFile } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { openTestStudio } from "#server/testing/testStudio";
import { countModules } from "#server/pixels/countModules";
import { TEN_SETS, zipOfSet } from "../e2e/tenSets";
import { bundle } from "../bin/parts/bundle.mjs";
import { handIn, reviewed, startWorker } from "./studioAtWork";

/**
 * Ten downloads from their files to their sizes, by one worker and without anybody's thinking: read, accepted, counted, and the first
 * proposal taken for each. Beside it what the counting alone takes in a bare process. Wants DATABASE_URL.
 */
const LIMIT_SECONDS = 60;

const names = Object.keys(TEN_SETS);
const zips = await Promise.all(names.map(zipOfSet));
await bundle("build/worker");
const folder = await mkdtemp(join(tmpdir(), "kalonomy-bench-"));
const studio = await openTestStudio();
const worker = await startWorker();
try {
  const paths = names.map((name) => join(folder, `${name}.zip`));
  await Promise.all(paths.map((path, i) => writeFile(path, zips[i])));
  const begin = performance.now();
  const since = () => (performance.now() - begin) / 1000;
  const intake = await handIn(studio, paths);
  await reviewed(studio, intake);
  const read = since();
  await studio.api("POST", `/intakes/${intake}/accept`, { all: true });
  const accepted = since();
  const items = await counted(`/sizes?intake=${intake}`);
  const counting = since();
  const sizes = items.flatMap(({ id, revision, proposals: [first] }) =>
    first ? [{ material: id, seen: revision, size: first.size }] : [],
  );
  const { json } = await studio.api("POST", "/changes", { kind: "size", items: sizes });
  while ((await studio.api("GET", `/changes/${json.id}`)).json.state === "running") await soon();
  const all = since();

  const materials: { name: string; repeat: { width: number } | null }[] = (
    await studio.api("GET", `/materials?intake=${intake}`)
  ).json.items;
  const right = names.filter((name) => {
    const words = name.toLowerCase().match(/[a-z]{4,}/g)!;
    const made = materials.find((one) => words.every((word) => one.name.toLowerCase().includes(word)));
    return made?.repeat && Math.abs(made.repeat.width / TEN_SETS[name].repeat.width - 1) < 0.005;
  });
  const bare = await bareCounting();
  const sure = items.filter(({ proposals: [first] }) => first?.isSure).length;
  console.log(
    `ten downloads to their sizes: ${all.toFixed(1)} s (${LIMIT_SECONDS} at most, with what a person does): read ${read.toFixed(1)}, accepted ${(accepted - read).toFixed(1)}, counted ${(counting - accepted).toFixed(1)}, taken ${(all - counting).toFixed(1)}`,
  );
  console.log(
    `counting them alone in a bare process ${bare.toFixed(1)} s, ratio of the whole ${(all / bare).toFixed(2)}; ${sure} of ten sure, the first proposal within half a percent for ${right.length}`,
  );
} finally {
  worker.kill();
  await studio.close();
  await rm(folder, { recursive: true });
}

interface Item {
  id: string;
  revision: number;
  isCounting: boolean;
  proposals: { size: object; isSure: boolean }[];
}

/** What a sheet shows once all on it is counted. */
async function counted(path: string): Promise<Item[]> {
  for (;;) {
    const { items }: { items: Item[] } = (await studio.api("GET", path)).json;
    if (items.length === names.length && items.every(({ isCounting }) => !isCounting)) return items;
    await soon();
  }
}

async function soon(): Promise<void> {
  await new Promise((resolve) => setTimeout(resolve, 100));
}

/** The same pictures, decoded and counted one after another. */
async function bareCounting(): Promise<number> {
  const { items } = (await studio.api("GET", "/materials?days=1")).json;
  const { fileStore } = await import("#server/store/store");
  let seconds = 0;
  for (const { id } of items) {
    const { maps } = (await studio.api("GET", `/materials/${id}`)).json;
    const base = maps.find(({ role }: { role: string }) => role === "base_color");
    await fileStore().withLocal([base.sha256], async (pathOf) => {
      const begin = performance.now();
      await countModules({
        files: [{ path: pathOf(base.sha256), format: "png", use: "color" }],
        seamless: true,
      });
      seconds += (performance.now() - begin) / 1000;
    });
  }
  return seconds;
}
