import { BACKDROP } from "#core/picture/block";
import { isInFigure } from "#core/picture/figure";
import { reliefShadow } from "#core/picture/reliefShadow";
import { CLEAR_MM, type Hit, type Shape } from "#core/picture/shape";
import type { SurfaceReader } from "#core/picture/surfaceReader";
import { WALL_SHARE, type View } from "#core/picture/view";
import type { Rgb } from "#core/shade/rgb";
import { along, cross, unit, type Vector } from "#core/shade/vector";

export const WALL_HEIGHT_MM = 2700;
/** The figure stands so far before the wall, and so far from its right end. */
export const FIGURE_PLACE = { x: 700, z: 500 };
export const FIGURE_COLOR: Rgb = [0.024, 0.022, 0.02];
export const FLOOR: Rgb = [0.21, 0.205, 0.195];
/** How far the eye is, against the width of the wall, and how far it may be turned: from the side and from above, in degrees. */
const EYE = 1.5;
export const WALL_TURNS = { right: [-80, 80], down: [-10, 58] } as const;
/** From straight ahead the eye is a little above the middle. */
const EYE_DOWN = 2;

/** A wall as one view sees it: its middle is where x and y are 0, and the eye may be turned about it. Lengths are in millimetres. */
export interface Wall {
  half: { width: number; height: number };
  eyeAt: Vector;
  right: Vector;
  up: Vector;
}

export function wallIn({ width, mmPerPx, turn = { right: 0, down: 0 } }: View): Wall {
  const wide = width * mmPerPx * WALL_SHARE;
  const radians = (value: number, [least, most]: readonly [number, number], more = 0) =>
    ((Math.min(most, Math.max(least, value)) + more) * Math.PI) / 180;
  // Who turns the wall to the right walks to the left.
  const around = -radians(turn.right, WALL_TURNS.right);
  const over = radians(turn.down, WALL_TURNS.down, EYE_DOWN);
  const toEye: Vector = [
    Math.sin(around) * Math.cos(over),
    Math.sin(over),
    Math.cos(around) * Math.cos(over),
  ];
  const into: Vector = [-toEye[0], -toEye[1], -toEye[2]];
  const right = unit(cross(into, [0, 1, 0]));
  return {
    half: { width: wide / 2, height: WALL_HEIGHT_MM / 2 },
    eyeAt: along([0, 0, 0], toEye, Math.max(wide, WALL_HEIGHT_MM) * EYE),
    right,
    up: cross(right, into),
  };
}

/** A wall of real width and 2.7 m height on a floor, with a figure of 1.7 m before it, in perspective. The lamp stands still while the eye is turned. */
export function wallShape(
  view: View,
  repeat: { width: number; height: number },
  reader: SurfaceReader,
): Shape {
  const { half, eyeAt, right, up } = wallIn(view);
  const sight = (x: number, y: number): Vector => {
    const [across, upward] = [(x - view.width / 2) * view.mmPerPx, (view.height / 2 - y) * view.mmPerPx];
    return unit([
      right[0] * across + up[0] * upward - eyeAt[0],
      right[1] * across + up[1] * upward - eyeAt[1],
      right[2] * across + up[2] * upward - eyeAt[2],
    ]);
  };
  const uv = (x: number, y: number): [number, number] => [
    (view.centre.x + x + half.width) / repeat.width,
    (view.centre.y + half.height - y) / repeat.height,
  ];
  const above = (x: number, y: number) => reader.heightAt(...uv(x, y));
  /** What is met on a plane z, where the line of sight meets it. */
  const onPlane = (direction: Vector, z: number): Vector | undefined =>
    direction[2] < -1e-4 ? along(eyeAt, direction, (z - eyeAt[2]) / direction[2]) : undefined;
  const isHidden = (direction: Vector) => {
    const at = onPlane(direction, FIGURE_PLACE.z);
    return at !== undefined && isInFigure(at[0] - (half.width - FIGURE_PLACE.x), at[1] + half.height);
  };
  const frame: Hit["frame"] = { right: [1, 0, 0], up: [0, 1, 0], normal: [0, 0, 1] };
  return {
    hit(x, y) {
      const direction = sight(x, y);
      const at = onPlane(direction, 0);
      if (!at || isHidden(direction)) return undefined;
      let [px, py] = [at[0], at[1]];
      let z = 0;
      if (reader.hasRelief)
        for (let step = 0; step < 3; step++) {
          z = above(px, py);
          [px, py] = [at[0] + (direction[0] / direction[2]) * z, at[1] + (direction[1] / direction[2]) * z];
        }
      if (Math.abs(px) > half.width || Math.abs(py) > half.height) return undefined;
      const [u, v] = uv(px, py);
      return { u, v, frame, place: [px, py, z], eye: [-direction[0], -direction[1], -direction[2]] };
    },
    behind(x, y) {
      const direction = sight(x, y);
      if (isHidden(direction)) return FIGURE_COLOR;
      if (direction[1] >= -1e-4) return BACKDROP;
      const floor = along(eyeAt, direction, (-half.height - eyeAt[1]) / direction[1]);
      return floor[2] > 0 ? FLOOR : BACKDROP;
    },
    thickMm: CLEAR_MM,
    reachedBy: reliefShadow(reader, above, view.mmPerPx),
    fromFront: (direction) => direction,
  };
}
