import { chequered, CLEAR_MM, type Shape } from "#core/picture/shape";
import type { View } from "#core/picture/view";
import { unit, type Vector } from "#core/shade/vector";

/** From one fold to the next, and how far it stands out, in millimetres: a curtain of about one and a half times its width. */
export const PITCH_MM = 140;
export const DEPTH_MM = 70;
const STEPS = 128;
export const FOLD_STEPS = 24;

/** A pane is turned by so much from the eye, to the side. */
const PANE_SLOPE = Math.tan((32 * Math.PI) / 180);
/** A leaf leans back by so much at its sides. */
const LEAF_SLOPE = 1.1;

/** Something that is bent across and straight down, seen from straight ahead; in millimetres from its middle. */
export interface Bend {
  /** How far it stands out at a place, and how steeply that changes. */
  out(x: number): number;
  slope(x: number): number;
  /** How much of it lies between the middle and a place. */
  along(x: number): number;
  /** Where it ends: without it, it goes on. */
  half?: { width: number; height: number };
  /** How far its folds stand out that throw shadows on each other. */
  deepMm?: number;
  /** A pane's slope, or what a leaf's grows by in a millimetre. */
  bend?: number;
}

const foldSlope = (x: number) => ((Math.PI * DEPTH_MM) / PITCH_MM) * Math.sin((2 * Math.PI * x) / PITCH_MM);

/** Length along one fold up to each step of it, in millimetres. */
export const FOLD_LENGTHS = (() => {
  const lengths = new Float64Array(STEPS + 1);
  for (let i = 0; i < STEPS; i++)
    lengths[i + 1] =
      lengths[i] + (PITCH_MM / STEPS) * Math.hypot(1, foldSlope(((i + 0.5) * PITCH_MM) / STEPS));
  return lengths;
})();

/** How much cloth hangs in a width, against that width. */
export const FULLNESS = FOLD_LENGTHS[STEPS] / PITCH_MM;

const DRAPE: Bend = {
  out: (x) => (DEPTH_MM / 2) * (1 - Math.cos((2 * Math.PI * x) / PITCH_MM)),
  slope: foldSlope,
  along(x) {
    const folds = Math.floor(x / PITCH_MM);
    const step = (x / PITCH_MM - folds) * STEPS;
    const at = Math.min(STEPS - 1, Math.floor(step));
    const [before, after] = [FOLD_LENGTHS[at], FOLD_LENGTHS[at + 1]];
    return folds * FOLD_LENGTHS[STEPS] + before + (after - before) * (step - at);
  },
  deepMm: DEPTH_MM,
};

/** A sheet as wide as two thirds of what is seen, turned to the side: what it mirrors and what lies behind it are seen together. */
function paneIn({ width, height, mmPerPx }: View): Bend {
  const longer = Math.hypot(1, PANE_SLOPE);
  return {
    out: (x) => -PANE_SLOPE * x,
    slope: () => -PANE_SLOPE,
    along: (x) => x * longer,
    bend: PANE_SLOPE,
    half: { width: (width * mmPerPx) / 3, height: (height * mmPerPx) / 3 },
  };
}

/** One repeat of a sheet, arched towards the eye. */
function leafOf(repeat: { width: number; height: number }): Bend {
  /** Of a parabola, whose half has half the repeat's length. */
  const lengthTo = (steep: number) => (Math.hypot(1, steep) * steep + Math.asinh(steep)) / 2;
  const bend = lengthTo(LEAF_SLOPE) / (repeat.width / 2);
  return {
    out: (x) => (-bend * x * x) / 2,
    slope: (x) => -bend * x,
    along: (x) => lengthTo(bend * x) / bend,
    bend,
    half: { width: LEAF_SLOPE / bend, height: repeat.height / 2 },
  };
}

/** The bend of a shape. */
export const bendOf = (view: View, repeat: { width: number; height: number }): Bend =>
  view.shape === "pane" ? paneIn(view) : view.shape === "leaf" ? leafOf(repeat) : DRAPE;

/** Shows relief by its normals alone. Cloth in folds has its light sides and its shaded ones; a sheet ends, with the ground around it. */
export function bentShape(view: View, repeat: { width: number; height: number }): Shape {
  const { width, height, mmPerPx, centre } = view;
  const { out, slope, along, half, deepMm } = bendOf(view, repeat);
  const onPlane = (px: number, py: number): [number, number] => [
    (px - width / 2) * mmPerPx,
    (height / 2 - py) * mmPerPx,
  ];
  return {
    hit(px, py) {
      const [x, y] = onPlane(px, py);
      if (half && (Math.abs(x) > half.width || Math.abs(y) > half.height)) return undefined;
      const steep = slope(x);
      return {
        u: (centre.x + along(x)) / repeat.width,
        v: (centre.y - y) / repeat.height,
        frame: { right: unit([1, 0, steep]), up: [0, 1, 0], normal: unit([-steep, 0, 1]) },
        place: [x, y, out(x)],
        eye: [0, 0, 1],
      };
    },
    behind(px, py, spread) {
      const [x, y] = onPlane(px, py);
      return chequered(centre.x + x, centre.y - y, spread);
    },
    thickMm: CLEAR_MM,
    reachedBy({ place }, toLamp: Vector) {
      if (deepMm === undefined) return 1;
      // What rises above the tops of all folds is free.
      const length = (deepMm - place[2]) / Math.max(0.02, toLamp[2]);
      let open = 1;
      for (let step = 1; step <= FOLD_STEPS; step++) {
        const way = (step / FOLD_STEPS) * length;
        const over = place[2] + toLamp[2] * way - out(place[0] + toLamp[0] * way);
        // The edge of a shadow is as soft as a lamp of some degrees makes it.
        open = Math.min(open, 0.5 + over / Math.max(0.5, 0.08 * way));
        if (open <= 0) return 0;
      }
      return Math.max(0, open);
    },
    fromFront: (direction) => direction,
  };
}
