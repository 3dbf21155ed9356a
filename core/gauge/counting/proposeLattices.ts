import type { Evidence } from "#core/gauge/counting/evidence";
import { allLattices, cellOf, type LatticeModel } from "#core/gauge/counting/lattice";

export interface Proposed {
  model: LatticeModel;
  /** Share of what stands out that lies at the model's places, above what chance would put there; the poorer of both directions. */
  lift: number;
  score: number;
}

/**
 * A model with half the cell is better where it explains more than this power of a half of what the other does: a true
 * pattern loses little by it, one that is too fine loses half.
 */
const FINENESS = 0.4;
/** A cell has at least so many samples. */
const LEAST_CELL = 5;

/**
 * The energy of a pattern lies at the places of the reciprocal lattice of its translations: multiples of the numbers across and
 * down, slanted where courses are shifted. @returns the models that explain most with a small cell, the best first
 */
export function proposeLattices(evidence: Evidence, count: number): Proposed[] {
  const { width, height } = evidence;
  const power = standingOut(evidence);
  const [reachX, reachY] = [Math.floor(width * 0.42), Math.floor(height * 0.42)];
  // Column by column, from the lowest frequency to the highest: a model's places are then equal steps apart.
  const column = 2 * reachY + 1;
  const values = new Float32Array((reachX + 1) * column);
  for (let x = 0, i = 0; x <= reachX; x++)
    for (let y = -reachY; y <= reachY; y++, i++) values[i] = power[((y + height) % height) * width + x];
  const at = (x: number, y: number) => values[(x < 0 ? -x : x) * column + (x < 0 ? -y : y) + reachY];
  const totals = { across: 0, down: 0 };
  for (let x = 0; x <= reachX; x++)
    for (let y = x === 0 ? 1 : -reachY; y <= reachY; y++) {
      const value = at(x, y);
      if (x !== 0) totals.across += value;
      if (y !== 0) totals.down += value;
    }
  if (!(totals.across > 0 && totals.down > 0)) return [];
  const columns = sharesOfMultiples(reachX, (x) => {
    let sum = 0;
    for (let y = -reachY; y <= reachY; y++) sum += at(x, y);
    return sum / totals.across;
  });
  const rows = sharesOfMultiples(reachY, (y) => {
    let sum = 0;
    for (let x = -reachX; x <= reachX; x++) sum += at(x, y);
    return sum / totals.down;
  });
  const scored = (share: number, cell: number) => ((share - cell) / (1 - cell)) * cell ** -FINENESS;
  const best: Proposed[] = [];
  for (const model of allLattices(Math.floor(width / LEAST_CELL), Math.floor(height / LEAST_CELL))) {
    const { across, down, turns, steps } = model;
    const cell = cellOf(model);
    // What lies at any multiple of the numbers is more than what lies at both.
    const most = Math.min(columns[across] ?? 0, rows[down / steps] ?? 0);
    const least = best.length < count ? 0 : best[best.length - 1].score;
    if (scored(most, cell) <= least) continue;
    let [sumAcross, sumDown] = [0, 0];
    for (let a = 0; a * across <= reachX; a++) {
      const start = (a * turns * down) / steps;
      const middle = a * across * column + reachY;
      let sum = 0;
      for (
        let y = a === 0 ? down : start - Math.floor((reachY + start) / down) * down;
        y <= reachY;
        y += down
      )
        sum += values[middle + y];
      // What changes down only has no frequency across, and the other way round.
      if (a !== 0) sumAcross += sum;
      sumDown += sum - (a !== 0 && start % down === 0 ? values[middle] : 0);
    }
    const share = Math.min(sumAcross / totals.across, sumDown / totals.down);
    const score = scored(share, cell);
    if (score <= least) continue;
    best.push({ model, lift: (share - cell) / (1 - cell), score });
    best.sort((a, b) => b.score - a.score);
    if (best.length > count) best.pop();
  }
  return best;
}

/** For each number, the share of what lies at its multiples, 0 left out; of it all that a model can explain in one direction. */
function sharesOfMultiples(reach: number, at: (f: number) => number): number[] {
  const single = Array.from({ length: reach + 1 }, (_, f) => (f === 0 ? 0 : at(f)));
  const all = single.reduce((sum, v) => sum + v, 0);
  return Array.from({ length: reach + 1 }, (_, n) => {
    if (n <= 1) return all;
    let sum = 0;
    for (let f = n; f <= reach; f += n) sum += single[f];
    return sum;
  });
}

/** Frequencies to either side that one is compared with, and how far it has to rise above them. */
const NEAR = 7;
const RISES = 2.5;
/** Of the neighbours in one row or column, so many from below is the usual one. */
const USUAL = 4;

/** The amplitude at each frequency, less what is usual in its row and in its column: grain and noise go. */
function standingOut({ width, height, energy }: Evidence): Float32Array {
  const amplitude = energy.map(Math.sqrt);
  const out = new Float32Array(amplitude.length);
  const lowest = new Float32Array(USUAL + 1);
  const usual = (fixed: number, at: number, side: number, step: number) => {
    lowest.fill(Infinity);
    for (let k = -NEAR; k <= NEAR; k++) {
      if (k === 0) continue;
      const value = amplitude[fixed + ((at + k + side) % side) * step];
      if (value >= lowest[USUAL]) continue;
      let place = USUAL;
      for (; place > 0 && lowest[place - 1] > value; place--) lowest[place] = lowest[place - 1];
      lowest[place] = value;
    }
    return lowest[USUAL];
  };
  for (let y = 0; y < height; y++)
    // A real picture's spectrum is the same on the other half.
    for (let x = 0; x <= width / 2; x++) {
      const i = y * width + x;
      if (amplitude[i] === 0) continue;
      const left = amplitude[i] - RISES * usual(y * width, x, width, 1);
      out[i] = left > 0 ? Math.max(0, Math.min(left, amplitude[i] - RISES * usual(x, y, height, width))) : 0;
      out[((height - y) % height) * width + ((width - x) % width)] = out[i];
    }
  return out;
}
