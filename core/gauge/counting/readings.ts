import type { Bond } from "#core/gauge/bond";
import { coursedIn, type Coursed } from "#core/gauge/counting/candidates";
import { areFlanks, wavesIn } from "#core/gauge/counting/courses";
import type { Copies } from "#core/gauge/counting/copies";
import type { Evidence } from "#core/gauge/counting/evidence";
import type { LatticeModel } from "#core/gauge/counting/lattice";
import { jointsOf } from "#core/gauge/joints";
import { proposeLattices } from "#core/gauge/counting/proposeLattices";
import { latticeJudge, type Verified } from "#core/gauge/counting/verifyLattice";
import type { Plane } from "#core/raster/plane";

/** One way to read a picture, with what speaks for it. */
export interface Reading {
  kind: "bonded" | "grid" | "lattice" | "stripes" | "waves" | "nothing";
  across?: number;
  down?: number;
  bond: Bond;
  upright?: boolean;
  /** Of herringbone: how many times as long as wide a block is. */
  blockLength?: number;
  /** What sureness is made of, each the more the better and cut at what is plenty. */
  signs: Record<string, number>;
}

export interface Found {
  lattice?: { model: LatticeModel; lift: number; verified: Verified };
  coursed: Coursed[];
}

const PROPOSALS = 12;
/** A lattice holds where its weakest places are at least so alike against the mean. */
const HOLDS = 0.6;

export function findReadings(evidence: Evidence): Found {
  const coursed = (["down", "across"] as const)
    .map((along) => coursedIn(evidence, along))
    .filter((one) => one !== undefined);
  const judge = latticeJudge(evidence);
  const verified = proposeLattices(evidence, PROPOSALS).map(({ model, lift, score }) => ({
    model,
    lift,
    score,
    verified: judge(model),
  }));
  const holding = verified.filter(
    ({ verified: { likeness, weakestLikeness } }) => weakestLikeness > HOLDS * likeness && likeness > 0,
  );
  return { lattice: holding[0] ?? verified[0], coursed };
}

const PLENTY = 2.5;
const ratio = (a: number, b: number) => (b > 0 ? Math.max(-1, Math.min(1, a / b)) : 0);

/** How well a reading in courses holds: as well as the poorer of beds and heads, less what is missing. */
const bondedWorth = ({ bedPlainness, headPlainness, missing }: Coursed): number =>
  Math.min(PLENTY, bedPlainness, headPlainness) * Math.max(0, 1 - 3 * Math.max(missing.beds, missing.heads));

const BOND_OF: Record<number, Bond> = { 1: "stack", 2: "half", 3: "third", 4: "quarter" };
const bondOf = (turns: number, steps: number): Bond =>
  Math.abs(turns) <= 1 ? (BOND_OF[steps] ?? "other") : "other";

/** Readings that are worth less are none. */
const LEAST = { bonded: 0.55, lattice: 0.03, stripes: 0.45, whole: 0.6 };
/** More edges than this may not be missing: of herringbone in a grid a quarter is. */
const MOST_MISSING = 0.16;
/** A lattice of so few cells is a picture that holds itself more than once. */
const FEW_CELLS = 9;

/** Chooses among all readings. */
export function readingOf(evidence: Evidence, found: Found, copies: Copies): Reading {
  const { lattice, coursed } = found;
  const like = lattice?.verified.likeness ?? 0;
  const holds = lattice ? ratio(lattice.verified.weakestLikeness, like) : 0;
  const latticeWorth = like * Math.max(0, holds);
  const [best, second] = coursed.slice().sort((a, b) => bondedWorth(b) - bondedWorth(a));
  const [stripes, otherStripes] = coursed.slice().sort((a, b) => stripesWorth(b) - stripesWorth(a));
  const named = lattice && latticeWorth > LEAST.lattice ? nameLattice(evidence, lattice.model) : undefined;
  const cells = lattice ? lattice.model.across * lattice.model.down : 0;
  const isBonded =
    best?.heads &&
    bondedWorth(best) > LEAST.bonded &&
    Math.max(best.missing.beds, best.missing.heads) < MOST_MISSING;
  // Squares of blocks that lie and stand in turn: the joints of a stack, and every second square alike.
  const isBasket =
    isBonded &&
    best.heads!.steps === 1 &&
    !best.mixed &&
    lattice?.model.steps === 2 &&
    holds > HOLDS &&
    countsOf(best).join() === [2 * lattice.model.across, lattice.model.down].join();
  const isHerringbone = named?.bond === "herringbone" && !(isBonded && !best.mixed && best.heads!.steps > 1);
  const inGrid = !isHerringbone && !isBonded && best ? herringboneInGrid(evidence, coursed) : undefined;
  if (inGrid)
    return {
      kind: "grid",
      ...inGrid,
      bond: "herringbone",
      blockLength: 2,
      signs: {
        bed: Math.min(PLENTY, ...coursed.map((one) => one.bedPlainness)),
        like: Math.min(0.4, latticeWorth),
        holds,
      },
    };
  if (isBonded && !isHerringbone && !isTooCoarse(best, lattice)) {
    const bond = isBasket ? "basket" : (best.mixed ?? bondOf(best.heads!.turns, best.heads!.steps));
    const [across, down] = countsOf(best);
    return {
      kind: "bonded",
      across,
      down,
      bond,
      ...(best.along === "across" && bond !== "stack" && bond !== "basket" && { upright: true }),
      signs: {
        bed: Math.min(PLENTY, best.bedPlainness),
        head: Math.min(PLENTY, best.headPlainness),
        present: 1 - Math.min(0.5, Math.max(best.missing.beds, best.missing.heads)),
        lead: 1 - Math.max(best.rival, Math.min(1, best.headRival)),
        agrees: isBasket ? 1 : agreement([across, down], best.heads!, best.along, best.mixed, lattice),
        like: Math.min(0.4, latticeWorth),
        other: second ? Math.min(PLENTY, bondedWorth(second)) : 0,
      },
    };
  }
  const isStriped = stripes && stripesWorth(stripes) > LEAST.stripes;
  const isShifted = lattice?.model.steps === 2;
  // So few cells are the picture itself, laid beside itself; and a grid in which edges are missing is no stack.
  const isItself =
    !named?.bond.startsWith("herringbone") &&
    named?.bond !== "basket" &&
    (isShifted
      ? lattice.model.across === 1
      : lattice?.model.steps === 1 && (cells <= FEW_CELLS || cells === copies.across * copies.down));
  const hasGaps =
    lattice?.model.steps === 1 &&
    coursed.some(({ along, bed, missing }) => {
      const count = along === "down" ? lattice.model.down : lattice.model.across;
      return bed.count === count && missing.beds > MOST_MISSING;
    });
  if (
    named &&
    !isItself &&
    !hasGaps &&
    !(isStriped && stripesWorth(stripes) > LEAST.whole && cells <= FEW_CELLS)
  ) {
    return {
      kind: "lattice",
      ...named,
      signs: {
        like: Math.min(0.4, latticeWorth),
        holds,
        lift: Math.min(1, lattice!.lift),
        apart: 1 - ratio(Math.max(0, lattice!.verified.between), lattice!.verified.mean),
        cells: Math.min(5, Math.log2(cells)),
        named: named.bond === "stack" ? 0 : 1,
      },
    };
  }
  if (isStriped) {
    const { along, bed } = stripes;
    const count = areFlanks(evidence, along, bed.count) ? bed.count / 2 : bed.count;
    return {
      kind: "stripes",
      ...(along === "down" ? { down: count } : { across: count }),
      bond: "stack",
      signs: {
        bed: Math.min(PLENTY, stripesWorth(stripes)),
        level: Math.min(3.5, bed.level),
        lead: 1 - Math.min(1, stripes.rival),
        present: 1 - Math.min(0.5, stripes.missing.beds),
        other: otherStripes ? Math.min(PLENTY, stripesWorth(otherStripes)) : 0,
        heads: Math.min(PLENTY, stripes.headPlainness),
        like: Math.min(0.4, latticeWorth),
      },
    };
  }
  const waves = (["down", "across"] as const)
    .map((along) => ({ along, ...wavesIn(evidence, along) }))
    .sort((a, b) => (b.share ?? 0) * (b.amplitude ?? 0) - (a.share ?? 0) * (a.amplitude ?? 0))[0];
  if (waves.count !== undefined && waves.share! > 0.6 && waves.amplitude! > 0.04)
    return {
      kind: "waves",
      ...(waves.along === "down" ? { down: waves.count } : { across: waves.count }),
      bond: "stack",
      signs: { share: waves.share!, amplitude: Math.min(0.5, waves.amplitude!) },
    };
  return {
    kind: "nothing",
    bond: "stack",
    signs: {
      stripes: stripes ? stripesWorth(stripes) : 0,
      bonded: best ? bondedWorth(best) : 0,
      like: Math.min(0.4, latticeWorth),
      level: Math.max(0, ...coursed.map(({ bed }) => bed.level)),
      waves: waves.share ?? 0,
      itself: isItself ? Math.min(1, like) : 0,
      gaps: hasGaps ? 1 : 0,
    },
  };
}

/** A lattice that is so plain and finer is not put down to chance. */
const PLAIN = { likeness: 0.35, holds: 0.85 };

/** Whether the picture goes into itself by a part of what was read: a part of the beds or heads was not found. */
function isTooCoarse(read: Coursed, lattice: Found["lattice"]): boolean {
  if (!lattice || read.mixed || lattice.model.steps > 1) return false;
  const { likeness, weakestLikeness } = lattice.verified;
  if (likeness < PLAIN.likeness || weakestLikeness < PLAIN.holds * likeness) return false;
  const [across, down] = countsOf(read);
  const { model } = lattice;
  return model.across % across === 0 && model.down % down === 0 && model.across * model.down > across * down;
}

/** Of the edges of a grid in which blocks of 2:1 lie in herringbone, a quarter is missing. */
const QUARTER = [0.19, 0.31] as const;
/** Periods of such a grid. */
const PERIOD = 4;

function herringboneInGrid(
  { original }: Evidence,
  coursed: Coursed[],
): { across: number; down: number } | undefined {
  const [down, across] = [coursed.find((c) => c.along === "down"), coursed.find((c) => c.along === "across")];
  if (!down || !across || Math.min(down.bedPlainness, across.bedPlainness) < 0.7) return undefined;
  const isQuarter = ({ missing }: Coursed) =>
    Math.max(missing.beds, missing.heads) > QUARTER[0] && Math.max(missing.beds, missing.heads) < QUARTER[1];
  if (!isQuarter(down) || !isQuarter(across)) return undefined;
  const [columns, rows] = [across.bed.count, down.bed.count];
  const isSquare = Math.abs(original.width / columns / (original.height / rows) - 1) < SQUARE;
  if (!isSquare || columns % PERIOD !== 0 || rows % PERIOD !== 0) return undefined;
  return { across: columns / PERIOD, down: rows / PERIOD };
}

/** Modules across and down. */
const countsOf = ({ along, bed, heads }: Coursed): [number, number] =>
  along === "down" ? [heads!.count, bed.count] : [bed.count, heads!.count];

const stripesWorth = ({ bedPlainness, missing }: Coursed) =>
  bedPlainness * Math.max(0, 1 - 1.5 * missing.beds);

/** Whether the lattice of the picture's translations says the same as its joints. */
function agreement(
  [across, down]: [number, number],
  heads: { turns: number; steps: number },
  along: "down" | "across",
  mixed: Coursed["mixed"],
  lattice: Found["lattice"],
): number {
  if (!lattice) return 0;
  const { model, verified } = lattice;
  if (verified.likeness <= 0 || verified.weakestLikeness < HOLDS * verified.likeness) return 0;
  const cells = model.across * model.down;
  const own = mixed === "english" ? (across * down) / 2 : across * down;
  if (cells === own) {
    const isSame =
      along === "down"
        ? model.across === across && (mixed === "english" || model.down === down)
        : model.across * heads.steps === across || model.down === down;
    return isSame ? 1 : -1;
  }
  // Copies of a part: the joints are finer, and fit.
  if (own % cells === 0 && across % model.across === 0) return 0.5;
  return -1;
}

/** Blocks that fit into squares do so to this part. */
const SQUARE = 0.06;
/** How much more has to change across slanted lines than across upright and level ones. */
const SLANTED = 1.2;
/** And how alike both straight ones are where blocks lie and stand in turn. */
const EVEN = 0.85;

/** What a lattice is whose joints do not go through. */
function nameLattice(
  evidence: Evidence,
  { across, down, turns, steps }: LatticeModel,
): Pick<Reading, "bond" | "blockLength"> & { across: number; down: number } {
  const { original, plane } = evidence;
  const proportion = original.width / across / (original.height / down);
  if (steps >= 4 && steps % 2 === 0 && Math.abs(proportion / steps - 1) < SQUARE)
    return { across, down: down / steps, bond: "herringbone", blockLength: steps / 2 };
  const isTwice = Math.abs(Math.abs(Math.log2(proportion)) - 1) < SQUARE;
  if (steps <= 2 && isTwice) {
    // As they are, and not levelled: which run most is the question.
    const [upright, level, falling, rising] = jointsOf(plane).map((joint) =>
      sharedBy(joint, across, down / steps),
    );
    if (steps === 1 && falling + rising > SLANTED * (upright + level))
      return { across, down, bond: "herringbone45" };
    // Blocks of 2:1 in half bond have the same lattice: their heads are half as long as their beds, and those of basket weave as long.
    const areEven = Math.min(upright, level) > EVEN * Math.max(upright, level);
    if (steps === 2 && proportion > 1 && areEven && upright + level > SLANTED * (falling + rising))
      return { across: 2 * across, down, bond: "basket" };
  }
  return { across, down, bond: bondOf(turns, steps) };
}

/** Places of a cell, across and down, that are looked at. */
const CELL = 48;

/** How much the places of a cell differ from each other, as the mean over all cells: what only some of them have goes. */
function sharedBy({ width, height, data }: Plane, across: number, down: number): number {
  const sums = new Float64Array(CELL * CELL);
  const counts = new Uint32Array(CELL * CELL);
  for (let y = 0; y < height; y++) {
    const row = (Math.floor((y * down * CELL) / height) % CELL) * CELL;
    for (let x = 0; x < width; x++) {
      const place = row + (Math.floor((x * across * CELL) / width) % CELL);
      sums[place] += data[y * width + x];
      counts[place]++;
    }
  }
  const means = sums.map((sum, i) => (counts[i] > 0 ? sum / counts[i] : 0)).filter((_, i) => counts[i] > 0);
  const mean = means.reduce((sum, value) => sum + value, 0) / means.length;
  return Math.sqrt(means.reduce((sum, value) => sum + (value - mean) ** 2, 0) / means.length);
}
