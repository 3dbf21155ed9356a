/**
 * The translations of a repeating picture into itself: so many cells across, and so many courses down, each shifted by a part of a cell
 * against the one before.
 */
export interface LatticeModel {
  across: number;
  down: number;
  /** The shift as a fraction: 0 of 1 for cells that stand on each other, 1 of 2 for half bond. */
  turns: number;
  steps: number;
}

/** Most cells across and down. */
const MOST_ACROSS = 64;
const MOST_DOWN = 64;

/** Shifts that are told apart; the negative ones are their mirror images. */
export const SHIFTS: readonly [turns: number, steps: number][] = [
  [0, 1],
  [1, 2],
  [1, 3],
  [-1, 3],
  [1, 4],
  [-1, 4],
  [1, 5],
  [-1, 5],
  [2, 5],
  [-2, 5],
  [1, 6],
  [-1, 6],
  [1, 8],
  [-1, 8],
];

/** All lattices that close over a picture with at least so many cells. */
export function allLattices(mostAcross: number, mostDown: number): LatticeModel[] {
  const models: LatticeModel[] = [];
  for (const [turns, steps] of SHIFTS)
    for (let across = 1; across <= Math.min(MOST_ACROSS, mostAcross); across++)
      for (let down = steps; down <= Math.min(MOST_DOWN, mostDown); down += steps)
        if (steps > 1 || (across > 1 && down > 1)) models.push({ across, down, turns, steps });
  return models;
}

/** Area of the cell that repeats, as a share of the picture. */
export const cellOf = ({ across, down }: LatticeModel): number => 1 / (across * down);
