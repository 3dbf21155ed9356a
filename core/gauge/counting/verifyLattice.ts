import type { Evidence } from "#core/gauge/counting/evidence";
import type { LatticeModel } from "#core/gauge/counting/lattice";
import type { Plane } from "#core/raster/plane";

/** How well the picture goes into itself by the translations of a lattice. */
export interface Verified {
  /** Mean likeness at the lattice's places above the usual one, in its spread, and the mean of the weakest class of places. */
  mean: number;
  weakest: number;
  /** The likeness itself, mean and of the weakest class. */
  likeness: number;
  weakestLikeness: number;
  /** The strongest class of places between, in the same spread: what a finer lattice would have. */
  between: number;
  /** Places that were looked at. */
  count: number;
}

/** What is usual of the highest likeness within a reach. */
interface Usual {
  mean: number;
  spread: number;
}

/** So many places, spread evenly over all, tell what is usual. */
const USUAL_PLACES = 512;

/** At most so many places of a lattice are looked at, spread over all. */
const MOST_PLACES = 256;

/** Looks at lattices one after another; what they share is worked out once. */
export function latticeJudge({ width, height, acrossLikeness, downLikeness }: Evidence) {
  const usual = new Map<string, Usual>();
  /** The highest within a reach around a shift, above the usual: by what changes across, and by what changes down. */
  const looker = (reachX: number, reachY: number) => {
    const highest = ({ data }: Plane, x: number, y: number) => {
      let most = -Infinity;
      for (let dy = -reachY; dy <= reachY; dy++) {
        const row = ((y + dy + height) % height) * width;
        for (let dx = -reachX; dx <= reachX; dx++)
          most = Math.max(most, data[row + ((x + dx + width) % width)]);
      }
      return most;
    };
    return [acrossLikeness, downLikeness].map((plane, which) => {
      const key = `${which} ${reachX} ${reachY}`;
      const known = usual.get(key) ?? usualOf((x, y) => highest(plane, x, y), width, height);
      usual.set(key, known);
      return {
        known,
        at: (x: number, y: number) => highest(plane, x, y) - known.mean,
      };
    });
  };
  return ({ across, down, turns, steps }: LatticeModel): Verified => {
    const [cellX, cellY] = [width / across, height / down];
    const reach = (cell: number) => Math.max(1, Math.min(4, Math.round(cell * 0.04)));
    const [inAcross, inDown] = looker(reach(cellX), reach(cellY));
    /** The poorer of both directions at a place given in cells. */
    const at = (i: number, j: number) => {
      // A pattern's frequencies slant the other way than its courses are shifted.
      const x = Math.round(((i - (j * turns) / steps) * cellX + 64 * width) % width) % width;
      const y = Math.round((j * cellY + 64 * height) % height) % height;
      const [a, d] = [inAcross.at(x, y), inDown.at(x, y)];
      return {
        z: Math.min(a / inAcross.known.spread, d / inDown.known.spread),
        likeness: Math.min(a, d),
      };
    };
    const classes = new Map<string, { sum: number; likeness: number; count: number }>();
    const add = (key: string, { z, likeness }: { z: number; likeness: number }) => {
      const one = classes.get(key) ?? { sum: 0, likeness: 0, count: 0 };
      one.sum += z;
      one.likeness += likeness;
      one.count++;
      classes.set(key, one);
    };
    const stride = Math.max(1, Math.ceil(Math.sqrt((across * down) / MOST_PLACES)));
    let between = -Infinity;
    const halves = { right: [0, 0], below: [0, 0], both: [0, 0] };
    let count = 0;
    for (let j = 0; j < down; j += j > 6 ? stride : 1)
      for (let i = 0; i < across; i += i > 6 ? stride : 1) {
        for (const [half, di, dj] of [
          [halves.right, 0.5, 0],
          [halves.below, 0, 0.5],
          [halves.both, 0.5, 0.5],
        ] as const) {
          half[0] += at(i + di, j + dj).z;
          half[1]++;
        }
        if (i === 0 && j === 0) continue;
        const place = at(i, j);
        count++;
        add("all", place);
        // Cells that are too fine by two or three miss every second or third of the true places.
        if (i % 2 !== 0 || j % 2 !== 0) add(`2: ${i % 2} ${j % 2}`, place);
        if (i % 3 !== 0 || j % 3 !== 0) add(`3: ${i % 3} ${j % 3}`, place);
      }
    for (const [sum, number] of Object.values(halves)) between = Math.max(between, sum / number);
    const all = classes.get("all") ?? { sum: 0, likeness: 0, count: 1 };
    let weakest = Infinity;
    let weakestLikeness = Infinity;
    for (const [, { sum, likeness, count: number }] of classes) {
      weakest = Math.min(weakest, sum / number);
      weakestLikeness = Math.min(weakestLikeness, likeness / number);
    }
    return {
      mean: all.sum / all.count,
      weakest,
      likeness: all.likeness / all.count,
      weakestLikeness,
      between,
      count,
    };
  };
}

function usualOf(at: (x: number, y: number) => number, width: number, height: number): Usual {
  let [sum, squares] = [0, 0];
  for (let k = 0; k < USUAL_PLACES; k++) {
    // Steps by the plastic number fill the plane evenly, and lie on no lattice.
    const value = at(
      Math.floor(((k * 0.754877666) % 1) * width),
      Math.floor(((k * 0.569840291) % 1) * height),
    );
    sum += value;
    squares += value * value;
  }
  const mean = sum / USUAL_PLACES;
  return {
    mean,
    spread: Math.sqrt(Math.max(0, squares / USUAL_PLACES - mean * mean)) || 1,
  };
}
