import { findReading } from "#core/gauge/counting/findReading";
import { lumaOf, type Plane } from "#core/raster/plane";
import { holds, type Held } from "./holdouts/holds";
import { fitLogistic, type Example } from "./holdouts/logistic";
import { drawOther, OTHER_KINDS } from "./holdouts/otherPatterns";
import { makePattern } from "./makePatterns";

/**
 * Fits how sure a count is to patterns of both generators, and prints the weights for `core/gauge/counting/sureness.ts`. Its
 * seeds are its own: `bench/holdout.ts` draws others.
 */
const COUNT = Number(process.env.BENCH_PATTERNS ?? 900);
const SEED = Number(process.env.BENCH_SEED ?? 40_000_000);
const examples = new Map<string, Example[]>();

for (let i = 0; i < COUNT / 4; i++) {
  const made = await makePattern(SEED + i, 1024);
  learn(lumaOf(made.raster), [made]);
}
for (let i = 0; i < COUNT; i++) {
  const isWorn = Math.floor(i / OTHER_KINDS.length) % 2 === 1;
  const made = await drawOther(SEED + i, OTHER_KINDS[i % OTHER_KINDS.length], isWorn);
  learn(lumaOf(made.raster), made.truths);
}
for (const [kind, all] of examples) {
  const { constant, weights } = fitLogistic(all);
  const right = all.filter((one) => one.right).length;
  console.log(`// ${right} of ${all.length} were right.`);
  const rounded = Object.entries(weights).map(([sign, weight]) => `${sign}: ${weight.toFixed(2)}`);
  console.log(`${kind}: { constant: ${constant.toFixed(2)}, weights: { ${rounded.join(", ")} } },`);
}

function learn(plane: Plane, truths: Held[]): void {
  const { reading } = findReading([plane]);
  const right = truths.some((truth) => holds(reading, truth));
  examples.set(reading.kind, [...(examples.get(reading.kind) ?? []), { signs: reading.signs, right }]);
}
