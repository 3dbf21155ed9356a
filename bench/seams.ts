import { readSeams, SEAM_LOOK, SEAM_WRONG, worstSeam } from "#core/judge/seams";
import { cropped } from "#core/judge/testing";
import { seededRandom } from "#core/pattern/random";
import { decode } from "#server/pixels/decode";
import { readFileSync } from "node:fs";
import { fetchTextures } from "./holdouts/fetchTextures";

/**
 * How well seams are told on real textures: each whole, as it continues, against the same cropped by 7 to 15 % in both directions at a
 * place drawn anew. Textures that do not continue themselves, by eye, are left out. `BENCH_SEED` repeats a run.
 */
const SEED = Number(process.env.BENCH_SEED ?? Math.floor(Math.random() * 1e6));
const random = seededRandom(SEED);
console.log(`seed ${SEED}`);

const discontinued = readFileSync(new URL("holdouts/seamTruths.tsv", import.meta.url), "utf8")
  .split("\n")
  .filter((line) => line && !line.startsWith("#"))
  .map((line) => line.split("\t")[0].split("/").slice(1).join("/"));

interface Pair {
  path: string;
  whole: number;
  crop: number;
}

/** The package whose textures the weights were fitted on as well. */
const FITTED = "openarena";
const pairs: Pair[] = [];
for (const { path } of await fetchTextures()) {
  if (discontinued.some((name) => path.endsWith(name))) continue;
  const raster = await decode(path, /\.png$/i.test(path) ? "png" : "jpeg", "color");
  const less = () => 1 - 0.07 - 0.08 * random();
  const [width, height] = [Math.round(raster.width * less()), Math.round(raster.height * less())];
  const crop = cropped(
    raster,
    Math.floor(random() * (raster.width - width + 1)),
    Math.floor(random() * (raster.height - height + 1)),
    width,
    height,
  );
  const [whole, cut] = [raster, crop].map((one) => worstSeam(readSeams(one, "color")).broken);
  pairs.push({ path, whole, crop: cut });
}

console.log(
  `| textures | pairs | AUC | cropped: worth a look, said | whole: worth a look, said |\n| - | - | - | - | - |`,
);
report(
  "never seen",
  pairs.filter(({ path }) => !path.includes(FITTED)),
);
report(
  "of the package that the weights were fitted on",
  pairs.filter(({ path }) => path.includes(FITTED)),
);
for (const { path, whole } of pairs.toSorted((a, b) => b.whole - a.whole).slice(0, 8))
  console.log(`${percent(whole)} ${path.split("/").slice(-2).join("/")}, whole`);
for (const { path, crop } of pairs.toSorted((a, b) => a.crop - b.crop).slice(0, 8))
  console.log(`${percent(crop)} ${path.split("/").slice(-2).join("/")}, cropped`);

function report(name: string, of: Pair[]): void {
  const over = (key: "whole" | "crop", from: number) => of.filter((pair) => pair[key] >= from).length;
  const said = (key: "whole" | "crop") => `${over(key, SEAM_LOOK)}, ${over(key, SEAM_WRONG)}`;
  console.log(`| ${name} | ${of.length} | ${auc(of).toFixed(3)} | ${said("crop")} | ${said("whole")} |`);
}

/** How often a cropped one is above a whole one. */
function auc(of: Pair[]): number {
  let above = 0;
  for (const { crop } of of) for (const { whole } of of) above += crop > whole ? 1 : crop === whole ? 0.5 : 0;
  return above / of.length ** 2;
}

function percent(share: number): string {
  return `${Math.round(share * 100)} %`;
}
