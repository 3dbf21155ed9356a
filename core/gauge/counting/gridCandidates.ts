import { cut, type Candidate } from "#core/gauge/counting/candidate";
import { likeSigns } from "#core/gauge/counting/likeSigns";
import { missingIn } from "#core/gauge/counting/missingEdges";
import { bedClaim, bedPlainness } from "#core/gauge/counting/plainness";
import type { Comb } from "#core/gauge/counting/combs";
import type { Along, Evidence } from "#core/gauge/counting/evidence";
import type { LatticeModel } from "#core/gauge/counting/lattice";
import type { Verified } from "#core/gauge/counting/verifyLattice";

/** Blocks that fit into squares do so to this part. */
const SQUARE = 0.06;
/** Cells of a grid, each way, in one period of blocks of 2:1; a quarter of the cells' edges is missing. */
const PERIOD = 4;
const QUARTER = 0.25;

/** Blocks of 2:1 whose joints lie in a grid of squares with gaps: herringbone, which goes into itself by one cell right and down, and basket weave, which does by two. */
export function gridCandidates(
  evidence: Evidence,
  beds: Record<Along, Comb[]>,
  judge: (model: LatticeModel) => Verified,
): Candidate[] {
  const [down, across] = [strongest(beds.down), strongest(beds.across)];
  if (!down || !across) return [];
  const { width, height } = evidence.original;
  const isSquare = Math.abs(width / across.count / (height / down.count) - 1) < SQUARE;
  if (!isSquare || across.count % PERIOD !== 0 || down.count % PERIOD !== 0) return [];
  const gaps = [
    missingIn(evidence, "down", down, undefined).beds,
    missingIn(evidence, "across", across, undefined).beds,
  ];
  const signs = {
    bedPlain: cut(Math.min(bedPlainness(down), bedPlainness(across)), -0.5, 2.5),
    offQuarter: Math.max(...gaps.map((gap) => Math.abs(gap - QUARTER))),
    missBeds: Math.max(...gaps),
  };
  const like = (turns: number, rows: number, steps: number) =>
    likeSigns(judge({ across: across.count / PERIOD, down: rows, turns, steps }));
  const [falling, rising] = [like(1, down.count, PERIOD), like(-1, down.count, PERIOD)];
  const herringbone = falling.weakLike > rising.weakLike ? falling : rising;
  const basket = like(1, down.count / 2, 2);
  return [
    {
      kind: "grid",
      across: across.count / PERIOD,
      down: down.count / PERIOD,
      bond: "herringbone",
      blockLength: 2,
      signs: {
        ...signs,
        ...herringbone,
        gridOther: basket.weakLike,
        herringbone: 1,
      },
    },
    {
      kind: "grid",
      across: across.count / 2,
      down: down.count / 2,
      bond: "basket",
      signs: {
        ...signs,
        ...basket,
        gridOther: herringbone.weakLike,
        herringbone: 0,
      },
    },
  ];
}

const strongest = (beds: Comb[]): Comb | undefined =>
  beds.filter(({ count }) => count > 1).sort((a, b) => bedClaim(b) - bedClaim(a))[0];
