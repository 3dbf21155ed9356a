import { chequered, type Shape } from "#core/picture/shape";
import type { View } from "#core/picture/view";
import { unit, type Vector } from "#core/shade/vector";

/** From one fold to the next, and how far it stands out, in millimetres: a curtain of about one and a half times its width. */
const PITCH_MM = 140;
const DEPTH_MM = 70;
const STEPS = 128;
const SHADOW_STEPS = 24;
const SQUARE_MM = 50;

/** In the folds' direction: how far out a place is, and how steeply that changes. */
const out = (x: number) => (DEPTH_MM / 2) * (1 - Math.cos((2 * Math.PI * x) / PITCH_MM));
const slope = (x: number) => ((Math.PI * DEPTH_MM) / PITCH_MM) * Math.sin((2 * Math.PI * x) / PITCH_MM);

/** Length along one fold up to each step of it. */
const ALONG = (() => {
  const lengths = new Float64Array(STEPS + 1);
  for (let i = 0; i < STEPS; i++)
    lengths[i + 1] = lengths[i] + (PITCH_MM / STEPS) * Math.hypot(1, slope(((i + 0.5) * PITCH_MM) / STEPS));
  return lengths;
})();

/** How much cloth lies between the middle and a place, in millimetres. */
function along(x: number): number {
  const folds = Math.floor(x / PITCH_MM);
  const step = (x / PITCH_MM - folds) * STEPS;
  const at = Math.min(STEPS - 1, Math.floor(step));
  return folds * ALONG[STEPS] + ALONG[at] + (ALONG[at + 1] - ALONG[at]) * (step - at);
}

/** How much cloth hangs in a width, against that width. */
export const FULLNESS = ALONG[STEPS] / PITCH_MM;

/** Cloth that hangs in upright folds, seen from straight ahead: each fold has its light side and its shaded one. */
export function drapeShape(view: View, repeat: { width: number; height: number }): Shape {
  const { width, height, mmPerPx, centre } = view;
  const onPlane = (px: number, py: number): [number, number] => [
    (px - width / 2) * mmPerPx,
    (height / 2 - py) * mmPerPx,
  ];
  return {
    hit(px, py) {
      const [x, y] = onPlane(px, py);
      const steep = slope(x);
      return {
        u: (centre.x + along(x)) / repeat.width,
        v: (centre.y - y) / repeat.height,
        frame: { right: unit([1, 0, steep]), up: [0, 1, 0], normal: unit([-steep, 0, 1]) },
        place: [x, y, out(x)],
        eye: [0, 0, 1],
      };
    },
    behind(px, py) {
      const [x, y] = onPlane(px, py);
      return chequered(centre.x + x, centre.y - y, SQUARE_MM);
    },
    reachedBy({ place }, toLamp: Vector) {
      // What rises above the tops of all folds is free.
      const length = (DEPTH_MM - place[2]) / Math.max(0.02, toLamp[2]);
      let open = 1;
      for (let step = 1; step <= SHADOW_STEPS; step++) {
        const way = (step / SHADOW_STEPS) * length;
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
