import { writeFileSync } from "node:fs";
import { findModules, SURE } from "#core/gauge/findModules";
import { lumaOf, type Plane } from "#core/raster/plane";
import { decode } from "#server/pixels/decode";
import { calibrationError, calibrationOf } from "./holdouts/calibration";
import { fetchTextures } from "./holdouts/fetchTextures";
import { holds, type Held } from "./holdouts/holds";
import { openKept } from "./holdouts/kept";
import { drawOther, OTHER_KINDS } from "./holdouts/otherPatterns";
import { reliabilityDiagram } from "./holdouts/reliabilityDiagram";
import { makePattern } from "./makePatterns";

/**
 * How often modules are counted right, and how sure, on pictures that nothing was fitted to: fresh seeds of two generators, and
 * real textures whose truths were written down by eye. `BENCH_SEED` repeats a run, `BENCH_ONLY` takes a part of it, `BENCH_KEPT` names
 * a file in which it goes on, and `BENCH_DIAGRAM` one for the diagram.
 */
const SEED = Number(process.env.BENCH_SEED ?? Math.floor(Math.random() * 1e6));
const COUNT = Number(process.env.BENCH_PATTERNS ?? 800);
const only = process.env.BENCH_ONLY?.split(",");
const isIn = (part: string) => !only || only.includes(part);

interface Statement {
  id: string;
  group: string;
  kind: string;
  hasModules: boolean;
  sure: number;
  right: boolean;
}

const kept = openKept<Statement>(process.env.BENCH_KEPT);
const statements: Statement[] = [];
console.log(`seed ${SEED}`);

if (isIn("own"))
  for (let i = 0; i < COUNT / 2; i++)
    await judge(`own ${SEED} ${i}`, async () => {
      // Far from the seeds that the tests draw, and from those that the weights were fitted to.
      const made = await makePattern(1e6 + SEED + i * 7919, 1024);
      const { name, kind, raster } = made;
      return { group: "own patterns", kind, name, plane: lumaOf(raster), truths: [made] };
    });
if (isIn("other"))
  for (let i = 0; i < COUNT; i++)
    await judge(`other ${SEED} ${i}`, async () => {
      const kind = OTHER_KINDS[i % OTHER_KINDS.length];
      const made = await drawOther(SEED * 31 + i, kind, Math.floor(i / OTHER_KINDS.length) % 2 === 1);
      const group = `other generator, ${made.worn ? "worn" : "clean"}`;
      return { group, kind, name: made.name, plane: lumaOf(made.raster), truths: made.truths };
    });
if (isIn("real"))
  for (const { path, group, kind, truths } of await fetchTextures()) {
    if (group !== "later textures") continue;
    const name = path.split("/").slice(-2).join("/");
    await judge(name, async () => {
      const plane = lumaOf(await decode(path, /\.png$/i.test(path) ? "png" : "jpeg", "color"));
      return { group, kind, name, plane, truths };
    });
  }

interface Score {
  all: number;
  rightSure: number;
  rightUnsure: number;
  wrongUnsure: number;
  wrongSure: number;
}
const scores = new Map<string, Score>();
for (const { group, kind, hasModules, sure, right } of statements)
  for (const name of [group, ...(hasModules ? [`${group}, with modules`] : []), `${group}: ${kind}`]) {
    const score = scores.get(name) ?? { all: 0, rightSure: 0, rightUnsure: 0, wrongUnsure: 0, wrongSure: 0 };
    const isSure = sure >= SURE;
    score.all++;
    score[right ? (isSure ? "rightSure" : "rightUnsure") : isSure ? "wrongSure" : "wrongUnsure"]++;
    scores.set(name, score);
  }
console.log("\n| pictures | all | right and sure | right, not sure | wrong, not sure | wrong and sure |");
for (const [name, { all, rightSure, rightUnsure, wrongUnsure, wrongSure }] of scores)
  console.log(
    `| ${name} | ${all} | ${rightSure} (${percent(rightSure / all)}) | ${rightUnsure} | ${wrongUnsure} | ${wrongSure} |`,
  );
const bins = calibrationOf(statements);
console.log("\n| stated | pictures | mean stated | held | 95 % interval |");
for (const { from, to, count, stated, held, low, high } of bins)
  console.log(
    `| ${from} to ${to} | ${count} | ${percent(stated)} | ${percent(held)} | ${percent(low)} to ${percent(high)} |`,
  );
console.log(`mean calibration error ${percent(calibrationError(bins))} over ${statements.length} statements`);
if (process.env.BENCH_DIAGRAM) writeFileSync(process.env.BENCH_DIAGRAM, reliabilityDiagram(bins));

async function judge(
  id: string,
  draw: () => Promise<{ group: string; kind: string; name: string; plane: Plane; truths: Held[] }>,
): Promise<void> {
  const known = kept.find(id);
  if (known) return void statements.push(known);
  const { group, kind, name, plane, truths } = await draw();
  const found = findModules([plane]);
  const right = truths.some((truth) => holds(found, truth));
  const hasModules = truths[0].across !== undefined || truths[0].down !== undefined;
  const one = { id, group, kind, hasModules, sure: found.sure, right };
  statements.push(one);
  kept.add(one);
  if (right && found.sure >= SURE) return;
  const said = `${found.across ?? "–"} × ${found.down ?? "–"} ${found.bond}${found.upright ? " upright" : ""} ${percent(found.sure)}`;
  const word = right ? "unsure" : found.sure >= SURE ? "WRONG AND SURE" : "wrong";
  console.log(
    `${word}: ${kind} ${name}: ${said}, and holds ${truths[0].across ?? "–"} × ${truths[0].down ?? "–"}`,
  );
}

function percent(share: number): string {
  return `${(100 * share).toFixed(1)} %`;
}
