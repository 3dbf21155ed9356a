import type { Comb } from "#core/gauge/counting/combs";
import type { Heads } from "#core/gauge/counting/courses";
import type { Along, Evidence } from "#core/gauge/counting/evidence";

/** An edge is missing that is less than so much of a usual one. */
const MISSING = 0.35;

/** The share of the pieces' edges that are not there, as of herringbone that lies in a grid. */
export function missingIn({ courses }: Evidence, along: Along, bed: Comb, heads: Heads | undefined) {
  const { beds: plane, bedSums, headSums } = courses[along];
  const { width, height } = plane;
  const course = height / bed.count;
  const count = heads?.count ?? Math.max(2, Math.round(width / Math.max(course, 8)));
  const piece = width / count;
  const shiftOf = (k: number) =>
    heads ? (heads.first / piece + (k * heads.turns) / heads.steps) * piece : 0;
  const bedLevels: number[] = [];
  const headLevels: number[] = [];
  for (let k = 0; k < bed.count; k++)
    for (let i = 0; i < count; i++) {
      const [x, y] = [shiftOf(k) + i * piece, bed.first + k * course];
      bedLevels.push(edge(bedSums, width, height, x + 0.2 * piece, y, 0.6 * piece, course * 0.1));
      if (heads)
        headLevels.push(edge(headSums, height, width, y + 0.2 * course, x, 0.6 * course, piece * 0.1));
    }
  return {
    beds: shareMissing(bedLevels),
    heads: heads ? shareMissing(headLevels) : 1,
  };
}

function shareMissing(levels: number[]): number {
  const usual = levels.slice().sort((a, b) => a - b)[Math.floor(0.65 * levels.length)];
  if (!(usual > 0)) return 1;
  return levels.filter((level) => level < MISSING * usual).length / levels.length;
}

/** The mean along a piece's edge, on the line beside its place that is strongest. @param sums running sums along such lines */
function edge(
  sums: Float64Array,
  side: number,
  lines: number,
  from: number,
  line: number,
  length: number,
  off: number,
): number {
  const reach = Math.max(1, Math.min(5, Math.round(off)));
  const steps = Math.min(side, Math.max(1, Math.round(length)));
  const start = ((Math.round(from) % side) + side) % side;
  const end = start + steps;
  let most = -Infinity;
  for (let k = -reach; k <= reach; k++) {
    const row = (((Math.round(line + k) % lines) + lines) % lines) * (side + 1);
    const sum =
      end <= side
        ? sums[row + end] - sums[row + start]
        : sums[row + side] - sums[row + start] + sums[row + end - side];
    most = Math.max(most, sum / steps);
  }
  return most;
}
