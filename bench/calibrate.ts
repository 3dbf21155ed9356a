import { writeFileSync } from "node:fs";
import { fileURLToPath } from "node:url";
import { format, resolveConfig } from "prettier";
import { readPicture } from "#core/gauge/counting/readPicture";
import type { Weights } from "#core/gauge/counting/network";
import { weighedSigns } from "#core/gauge/counting/weigh";
import { seededRandom } from "#core/pattern/random";
import { lumaOf, type Plane } from "#core/raster/plane";
import { decode } from "#server/pixels/decode";
import { fetchTextures } from "./holdouts/fetchTextures";
import { fitNetwork, type Choice } from "./holdouts/fitNetwork";
import { holds, type Held } from "./holdouts/holds";
import { openKept } from "./holdouts/kept";
import { drawOther, OTHER_KINDS } from "./holdouts/otherPatterns";
import { makePattern } from "./makePatterns";

/**
 * Fits how candidates are weighed, and writes `core/gauge/counting/weights.ts`: to patterns of both generators, with seeds that
 * `bench/holdout.ts` does not draw, and to the real textures that are not kept for it. Drawing and reading take an hour, and
 * fitting a quarter of one: with `BENCH_KEPT` naming a file, what was read is kept there, and the next run goes on with it.
 */
const OTHERS = Number(process.env.BENCH_PATTERNS ?? 1000);
const OWN = 0.3 * OTHERS;
const [SEED, OWN_SEED] = [300_000_000, 77_000_000];
/** A real texture counts as much as so many drawn ones. */
const REAL = 5;
const NETWORKS = 2;
const kept = openKept<Choice & { id: string }>(process.env.BENCH_KEPT);

const choices: Choice[] = [];
for (let i = 0; i < OTHERS; i++)
  await learn(`other ${i}`, 1, async () => {
    const isWorn = Math.floor(i / OTHER_KINDS.length) % 2 === 1;
    const made = await drawOther(SEED + i, OTHER_KINDS[i % OTHER_KINDS.length], isWorn);
    return { plane: lumaOf(made.raster), truths: made.truths };
  });
for (let i = 0; i < OWN; i++)
  await learn(`own ${i}`, 1, async () => {
    const made = await makePattern(OWN_SEED + 13 * i, 1024);
    return { plane: lumaOf(made.raster), truths: [made] };
  });
for (const { path, group, truths } of await fetchTextures())
  if (group !== "later textures")
    await learn(path.split("/").slice(-2).join("/"), REAL, async () => ({
      plane: lumaOf(await decode(path, /\.png$/i.test(path) ? "png" : "jpeg", "color")),
      truths,
    }));

console.log(`${choices.length} pictures`);
const signs = [...new Set(choices.flatMap((choice) => choice.signs.flatMap(Object.keys)))].sort();
const networks = Array.from({ length: NETWORKS }, (_, i) =>
  fitNetwork(choices, signs, {
    units: 12,
    ridge: 0.003,
    rounds: 200,
    random: seededRandom(i + 1),
  }),
);
const WEIGHTS = fileURLToPath(new URL("../core/gauge/counting/weights.ts", import.meta.url));
const style = await resolveConfig(WEIGHTS);
writeFileSync(WEIGHTS, await format(written({ signs, networks }), { ...style, parser: "typescript" }));

async function learn(
  id: string,
  weight: number,
  draw: () => Promise<{ plane: Plane; truths: Held[] }>,
): Promise<void> {
  const one = kept.find(id);
  if (one) return void choices.push(one);
  const { plane, truths } = await draw();
  const { candidates } = readPicture([plane]);
  const right = candidates.map((candidate) => truths.some((truth) => holds(candidate, truth)));
  // Last, that none of them is.
  const choice = {
    id,
    signs: weighedSigns(candidates).map(rounded),
    right: [...right, !right.includes(true)],
    weight,
  };
  choices.push(choice);
  kept.add(choice);
}

function rounded(signs: Record<string, number>): Record<string, number> {
  return Object.fromEntries(Object.entries(signs).map(([name, v]) => [name, Math.round(v * 1e4) / 1e4]));
}

function written(weights: Weights): string {
  const short = (_: string, value: unknown) =>
    typeof value === "number" ? Number(value.toPrecision(3)) : value;
  return `import type { Weights } from "#core/gauge/counting/weigh";

/** Fitted by \`bench/calibrate.ts\` to ${choices.length} pictures; not written by hand. */
export const WEIGHTS: Weights = ${JSON.stringify(weights, short)};
`;
}
