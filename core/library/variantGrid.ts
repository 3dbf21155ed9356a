/** One member of a line, with in what it differs. */
export interface LineMember {
  id: string;
  name: string;
  variant: Record<string, string>;
  /** Its place in a row of colours; null where it has none. */
  colorOrder: number | null;
}

/** The members of a line as a grid of two of the ways in which they differ, or as rows of one after another. */
export interface VariantGrid<M> {
  /** What the columns are called by, and the rows; null where there is but one. */
  across: { axis: string; values: string[] } | null;
  down: { axis: string; values: string[] } | null;
  /** By row and column; nothing where the line has no such member. */
  cells: M[][][];
}

/** A grid with fewer of its cells filled is none: nobody makes all of them. */
const LEAST_FILLED = 0.4;
const MOST_COLUMNS = 8;
/** Where nearly every row has but one cell, one way follows from the other, and spans nothing. */
const LEAST_IN_ROW = 1.3;
/** Cells that hold more are groups, and no variants. */
const MOST_IN_CELL = 3;
/** A way of differing that gathers at least so many to a value on average makes groups. */
const LEAST_TOGETHER = 2;

/** Lays the members of a line out by in what they differ: colour and joint, format and grade. */
export function variantGrid<M extends LineMember>(members: readonly M[]): VariantGrid<M> {
  const axes = [...new Set(members.flatMap(({ variant }) => Object.keys(variant)))]
    .map((axis) => ({ axis, values: valuesOf(members, axis) }))
    .filter(({ values }) => values.length > 1);
  const pairs = axes.flatMap((down) =>
    axes
      .filter((across) => across !== down && across.values.length <= MOST_COLUMNS)
      .filter((across) => across.values.length <= down.values.length)
      .map((across) => ({ down, across, filled: filledCells(members, down, across) }))
      .filter(
        ({ filled }) =>
          filled / down.values.length >= LEAST_IN_ROW && members.length / filled <= MOST_IN_CELL,
      )
      .map((pair) => ({ ...pair, share: pair.filled / (down.values.length * pair.across.values.length) })),
  );
  const best = pairs
    .filter(({ share }) => share >= LEAST_FILLED)
    .sort(
      (one, other) => other.share - one.share || one.across.values.length - other.across.values.length,
    )[0];
  if (best) return laidOut(members, best.down, best.across);
  const groups = axes
    .filter(({ values }) => members.length / values.length >= LEAST_TOGETHER)
    .sort((one, other) => other.values.length - one.values.length)[0];
  return groups ? laidOut(members, groups, null) : { across: null, down: null, cells: [[inOrder(members)]] };
}

type Axis = { axis: string; values: string[] };

const at = (member: LineMember, { axis }: Axis) => member.variant[axis] ?? "";

function valuesOf(members: readonly LineMember[], axis: string): string[] {
  // In the order of the colours where a value has one, so that a range reads from light to dark.
  const first = new Map<string, number>();
  for (const { variant, colorOrder } of members) {
    const value = variant[axis] ?? "";
    const order = colorOrder ?? Infinity;
    first.set(value, Math.min(first.get(value) ?? Infinity, order));
  }
  const byColor = axis === "colour";
  return [...first.keys()].sort((one, other) =>
    byColor && first.get(one) !== first.get(other)
      ? first.get(one)! - first.get(other)!
      : one.localeCompare(other, "en", { numeric: true }),
  );
}

function filledCells(members: readonly LineMember[], down: Axis, across: Axis): number {
  const filled = new Set(members.map((member) => JSON.stringify([at(member, down), at(member, across)])));
  return filled.size;
}

function laidOut<M extends LineMember>(
  members: readonly M[],
  down: Axis,
  across: Axis | null,
): VariantGrid<M> {
  return {
    down,
    across,
    cells: down.values.map((row) =>
      (across?.values ?? [null]).map((column) =>
        inOrder(
          members.filter(
            (member) => at(member, down) === row && (across === null || at(member, across) === column),
          ),
        ),
      ),
    ),
  };
}

const inOrder = <M extends LineMember>(members: readonly M[]): M[] =>
  [...members].sort(
    (one, other) =>
      (one.colorOrder ?? 9) - (other.colorOrder ?? 9) ||
      one.name.localeCompare(other.name, "en", { numeric: true }),
  );
