import { bondOf, type Bond } from "#core/gauge/bond";
import { cut, type Candidate } from "#core/gauge/counting/candidate";
import { bedPlainness } from "#core/gauge/counting/plainness";
import type { Comb } from "#core/gauge/counting/combs";
import { likeSigns } from "#core/gauge/counting/likeSigns";
import type { Along, Evidence } from "#core/gauge/counting/evidence";
import { cellOf, type LatticeModel } from "#core/gauge/counting/lattice";
import { proposeLattices } from "#core/gauge/counting/proposeLattices";
import type { Verified } from "#core/gauge/counting/verifyLattice";
import type { Plane } from "#core/raster/plane";

const PROPOSALS = 12;

/** A lattice of the picture's translations, with what it may be the lattice of. */
export interface LatticeCandidate {
  model: LatticeModel;
  candidate: Candidate;
}

/** What the translations of a picture say that it holds. @param beds all combs by direction */
export function latticeCandidates(
  evidence: Evidence,
  beds: Record<Along, Comb[]>,
  judge: (model: LatticeModel) => Verified,
): LatticeCandidate[] {
  const plain = (along: Along, count: number) => {
    const bed = beds[along].find((one) => one.count === count);
    return bed ? cut(bedPlainness(bed), -0.5, 2.5) : 0;
  };
  return proposeLattices(evidence, PROPOSALS).map(({ model, lift }, rank) => {
    const named = nameLattice(evidence, model);
    const { slanted, even } = named;
    const signs = {
      ...likeSigns(judge(model)),
      lift: cut(lift, 0, 1),
      rank: rank / PROPOSALS,
      shifted: model.steps === 1 ? 0 : 1,
      half: model.steps === 2 ? 1 : 0,
      hasName: named.bond === "stack" || named.bond === "other" ? 0 : 1,
      few: cellOf(model) >= 1 / 9 ? 1 : 0,
      slanted,
      even,
      plainDown: plain("down", model.down),
      plainAcross: plain("across", model.across),
    };
    const { across, down, bond, blockLength } = named;
    return {
      model,
      candidate: {
        kind: "lattice",
        across,
        down,
        bond,
        ...(blockLength !== undefined && { blockLength }),
        signs,
      },
    };
  });
}

/** Blocks that fit into squares do so to this part. */
const SQUARE = 0.06;
/** How much more has to change across slanted lines than across upright and level ones. */
const SLANTED = 1.2;
/** And how alike both straight ones are where blocks lie and stand in turn. */
const EVEN = 0.85;

interface Named {
  across: number;
  down: number;
  bond: Bond;
  blockLength?: number;
  /** How much more changes across slanted lines than across straight ones, and how alike the straight ones are; 0 where that is no question. */
  slanted: number;
  even: number;
}

/** What a lattice is whose joints do not go through. */
function nameLattice(evidence: Evidence, { across, down, turns, steps }: LatticeModel): Named {
  const { original, unlevelled } = evidence;
  const proportion = original.width / across / (original.height / down);
  if (steps >= 4 && steps % 2 === 0 && Math.abs(proportion / steps - 1) < SQUARE)
    return {
      across,
      down: down / steps,
      bond: "herringbone",
      blockLength: steps / 2,
      slanted: 0,
      even: 0,
    };
  const isTwice = Math.abs(Math.abs(Math.log2(proportion)) - 1) < SQUARE;
  const plain: Named = {
    across,
    down,
    bond: bondOf(turns, steps),
    slanted: 0,
    even: 0,
  };
  if (steps > 2 || !isTwice) return plain;
  // As they are, and not levelled: which run most is the question.
  const [upright, level, falling, rising] = unlevelled.map((joint) => sharedBy(joint, across, down / steps));
  const slanted = Math.log2((falling + rising) / (upright + level));
  const even = Math.min(upright, level) / Math.max(upright, level);
  const told = { slanted: cut(slanted, -2, 2), even: cut(even, 0, 1) };
  if (steps === 1 && slanted > Math.log2(SLANTED)) return { across, down, bond: "herringbone45", ...told };
  // Blocks of 2:1 in half bond have the same lattice: their heads are half as long as their beds, and those of basket weave as long.
  if (steps === 2 && proportion > 1 && even > EVEN && slanted < -Math.log2(SLANTED))
    return { across: 2 * across, down, bond: "basket", ...told };
  return { ...plain, ...told };
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
