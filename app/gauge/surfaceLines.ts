/** A joint on a drawing, from one end to the other. */
export interface Line {
  x1: number;
  y1: number;
  x2: number;
  y2: number;
}

interface Pattern {
  /** The surface as it is drawn. */
  width: number;
  height: number;
  /** From one module to the next, drawn; 0 where nothing is known of that direction. */
  step: { x: number; y: number };
  /** Where the first whole module begins, from the left and from the bottom. */
  origin: { left: number; bottom: number };
  /** Of each course against the one above it, or of each column against the one to its left, as a part of a module. */
  shift: number;
  upright: boolean;
}

/** More lines than this are no drawing any more. */
const MOST_LINES = 4000;

/** The joints as they lie on a surface. The y of the drawing goes down; none where there would be too many to tell apart. */
export function surfaceLines({ width, height, step, origin, shift, upright }: Pattern): Line[] {
  // Beds go through; what stands between them is shifted from one course, or column, to the next.
  const [along, over] = upright ? [height, width] : [width, height];
  const [stepAlong, stepOver] = upright ? [step.y, step.x] : [step.x, step.y];
  const [fromAlong, fromOver] = upright ? [origin.bottom, origin.left] : [origin.left, origin.bottom];
  const line = (a1: number, o1: number, a2: number, o2: number): Line =>
    upright
      ? { x1: o1, y1: height - a1, x2: o2, y2: height - a2 }
      : { x1: a1, y1: height - o1, x2: a2, y2: height - o2 };
  const courses = stepOver > 0 ? Math.ceil(over / stepOver) + 1 : 1;
  const pieces = stepAlong > 0 ? Math.ceil(along / stepAlong) + 1 : 0;
  if (courses * Math.max(1, pieces) >= MOST_LINES) return [];
  const lines: Line[] = [];
  for (let course = stepOver > 0 ? -1 : 0; course < courses; course++) {
    const from = stepOver > 0 ? fromOver + course * stepOver : 0;
    const to = stepOver > 0 ? from + stepOver : over;
    if (from >= over || to <= 0) continue;
    if (to < over) lines.push(line(0, to, along, to));
    if (stepAlong === 0) continue;
    const first = (((fromAlong - course * shift * stepAlong) % stepAlong) + stepAlong) % stepAlong;
    for (let at = first; at < along; at += stepAlong)
      if (at > 0) lines.push(line(at, Math.max(0, from), at, Math.min(over, to)));
  }
  return lines;
}
