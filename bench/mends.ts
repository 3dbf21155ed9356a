import { readSeams } from "#core/judge/seams";
import type { Direction } from "#core/raster/directions";
import { cropTo, findModuleCrop } from "#core/mend/cropToModules";
import { MOST_GIVEN_UP } from "#core/mend/findOverlap";
import { mendSeams } from "#core/mend/mendSeams";
import { refuseBroken } from "#core/mend/refuseBroken";
import { seededRandom } from "#core/pattern/random";
import type { Raster } from "#core/raster/raster";
import { Refusal } from "#core/text/refusal";
import { drawOther, type OtherKind } from "./holdouts/otherPatterns";

/**
 * Patterns that were cut off by 7 to 15 % both ways, mended and cropped: whether whole modules are left, bond and all. What is refused
 * with the reason is neither right nor wrong. Prints its seed; `BENCH_SEED` repeats a run.
 */
const SEED = Number(process.env.BENCH_SEED ?? Math.floor(Math.random() * 1e6));
const COUNT = Number(process.env.BENCH_PATTERNS ?? 50);
/** Kinds with the columns and courses after which each repeats. */
const KINDS: Partial<Record<OtherKind, { across: number; down: number }>> = {
  stack: { across: 1, down: 1 },
  half: { across: 1, down: 2 },
  third: { across: 1, down: 3 },
  quarter: { across: 1, down: 4 },
  uprightHalf: { across: 2, down: 1 },
  english: { across: 1, down: 2 },
  flemish: { across: 1, down: 2 },
  hexagon: { across: 1, down: 2 },
  slats: { across: 1, down: 1 },
};
/** So far a repeat may be off, as a share of it. */
const OFF = 0.08;

console.log(`seed ${SEED}`);
const random = seededRandom(SEED);
const ways = {
  mended: (image: Raster, asked: Record<Direction, boolean>) =>
    mendSeams([{ raster: image, values: "srgb" }], asked).maps[0],
  cropped: (image: Raster, asked: Record<Direction, boolean>) =>
    cropTo(image, findModuleCrop([image], asked)),
};
const scores = { mended: [0, 0, 0, 0], cropped: [0, 0, 0, 0] };
const kinds = Object.keys(KINDS) as OtherKind[];
for (let i = 0; i < COUNT; i++) {
  const kind = kinds[i % kinds.length];
  const made = await drawOther(SEED * 17 + i, kind, i % 2 === 1);
  const { raster, truths } = made;
  const image = cutOff(raster);
  const period = KINDS[kind]!;
  // What holds no whole repeat, or of which too much would be given up, is refused rightly.
  const parts = [
    partLeft(image.width, raster.width, truths[0].across, period.across),
    partLeft(image.height, raster.height, truths[0].down, period.down),
  ];
  const hasWhole = {
    mended: parts.every((part) => part >= 1 - MOST_GIVEN_UP),
    cropped: parts.every((part) => part > 0),
  };
  for (const way of ["mended", "cropped"] as const) {
    // Slats are cropped across themselves only: along them there is no pitch to crop to.
    const asked = {
      across: way === "mended" || truths[0].across !== undefined,
      down: way === "mended" || truths[0].down !== undefined,
    };
    let result: Raster;
    try {
      result = ways[way](image, asked);
      refuseBroken(asked, readSeams(image, "color"), readSeams(result, "color"));
    } catch (error) {
      if (!(error instanceof Refusal)) throw error;
      scores[way][hasWhole[way] ? 1 : 2]++;
      if (hasWhole[way]) console.log(`refused, ${way}: ${made.name}: ${error.message}`);
      continue;
    }
    const repeats = (pixels: number, whole: number, modules: number | undefined, each: number) =>
      modules === undefined ? 1 : (pixels * modules) / whole / each;
    const left = [
      repeats(result.width, raster.width, truths[0].across, period.across),
      repeats(result.height, raster.height, truths[0].down, period.down),
    ];
    const isWhole = left.every((count) => count > 0.5 && Math.abs(count - Math.round(count)) < OFF);
    scores[way][isWhole ? 0 : 3]++;
    if (!isWhole)
      console.log(
        `WRONG, ${way}: ${made.name}: ${left.map((count) => count.toFixed(2)).join(" × ")} repeats`,
      );
  }
}
for (const [way, [whole, refused, rightly, wrong]] of Object.entries(scores))
  console.log(
    `${way}: ${whole} of ${whole + refused + wrong} whole, ${refused} refused, ${wrong} not whole; ${rightly} that hold no whole repeat refused`,
  );

/** The share of a side that its whole repeats take. */
function partLeft(side: number, wholeSide: number, modules: number | undefined, each: number): number {
  if (modules === undefined) return 1;
  const repeat = (wholeSide / modules) * each;
  return (Math.floor(side / repeat) * repeat) / side;
}

function cutOff(image: Raster): Raster {
  const [width, height] = [image.width, image.height].map((side) =>
    Math.round(side * (0.85 + 0.08 * random())),
  );
  const left = Math.floor(random() * (image.width - width));
  const top = Math.floor(random() * (image.height - height));
  return cropTo(image, { left, top, width, height });
}
