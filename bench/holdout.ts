import { stat } from "node:fs/promises";
import { findModules, SURE } from "#core/gauge/findModules";
import { lumaOf, type Plane } from "#core/raster/plane";
import { decode } from "#server/images/decode";
import { calibrationError, calibrationOf, type Statement } from "./holdouts/calibration";
import { fetchTextures } from "./holdouts/fetchTextures";
import { holds, type Held } from "./holdouts/holds";
import { drawOther, OTHER_KINDS } from "./holdouts/otherPatterns";
import { makePattern } from "./makePatterns";

/**
 * How often modules are counted right, and how sure, on pictures that nothing was tuned on: fresh seeds of two generators, and
 * real textures whose truths were written down by eye. `BENCH_SEED` repeats a run, `BENCH_ONLY` takes a part of it.
 */
const SEED = Number(process.env.BENCH_SEED ?? Math.floor(Math.random() * 1e6));
const COUNT = Number(process.env.BENCH_PATTERNS ?? 400);
const only = process.env.BENCH_ONLY?.split(",");
const isIn = (part: string) => !only || only.includes(part);

interface Score {
  all: number;
  rightSure: number;
  rightUnsure: number;
  wrongUnsure: number;
  wrongSure: number;
}

const statements: Statement[] = [];
const groups = new Map<string, Score>();
console.log(`seed ${SEED}`);

if (isIn("own"))
  for (let i = 0; i < COUNT / 2; i++) {
    // Far from the seeds that the tests draw.
    const made = await makePattern(1e6 + SEED + i * 7919, 1024);
    judge("own patterns", made.kind, made.name, lumaOf(made.raster), [made]);
  }
if (isIn("other"))
  for (let i = 0; i < COUNT; i++) {
    const made = await drawOther(
      SEED * 31 + i,
      OTHER_KINDS[i % OTHER_KINDS.length],
      Math.floor(i / OTHER_KINDS.length) % 2 === 1,
    );
    judge(
      `other patterns, ${made.worn ? "worn" : "clean"}`,
      made.kind,
      made.name,
      lumaOf(made.raster),
      made.truths,
    );
  }
if (isIn("real"))
  for (const { path, group, kind, truths } of await fetchTextures()) {
    await stat(path);
    const plane = lumaOf(await decode(path, /\.png$/i.test(path) ? "png" : "jpeg", "color"));
    judge(group, kind, path.split("/").slice(-2).join("/"), plane, truths);
  }

console.log("\n| group | all | right and sure | right, unsure | wrong, unsure | wrong and sure |");
for (const [name, { all, rightSure, rightUnsure, wrongUnsure, wrongSure }] of groups)
  console.log(`| ${name} | ${all} | ${rightSure} | ${rightUnsure} | ${wrongUnsure} | ${wrongSure} |`);
const bins = calibrationOf(statements);
console.log("\n| stated | pictures | mean stated | held | 95 % interval |");
for (const { from, to, count, stated, held, low, high } of bins)
  console.log(
    `| ${from} to ${to} | ${count} | ${percent(stated)} | ${percent(held)} | ${percent(low)} to ${percent(high)} |`,
  );
console.log(`mean calibration error ${percent(calibrationError(bins))} over ${statements.length} statements`);

function judge(group: string, kind: string, name: string, plane: Plane, truths: Held[]): void {
  const found = findModules([plane]);
  const right = truths.some((truth) => holds(found, truth));
  const sure = found.sure >= SURE;
  statements.push({ sure: found.sure, right });
  for (const key of [
    group,
    `${group}: ${kind}`,
    ...(truths[0].across || truths[0].down ? [`${group} that have modules`] : []),
  ]) {
    const score = groups.get(key) ?? { all: 0, rightSure: 0, rightUnsure: 0, wrongUnsure: 0, wrongSure: 0 };
    score.all++;
    score[right ? (sure ? "rightSure" : "rightUnsure") : sure ? "wrongSure" : "wrongUnsure"]++;
    groups.set(key, score);
  }
  if (right && sure) return;
  const said = `${found.across ?? "–"} × ${found.down ?? "–"} ${found.bond}${found.upright ? " upright" : ""} ${percent(found.sure)}`;
  const wanted = `${truths[0].across ?? "–"} × ${truths[0].down ?? "–"}`;
  console.log(
    `${right ? "unsure" : sure ? "WRONG AND SURE" : "wrong"}: ${kind} ${name}: ${said}, and holds ${wanted}`,
  );
}

function percent(share: number): string {
  return `${(100 * share).toFixed(1)} %`;
}
