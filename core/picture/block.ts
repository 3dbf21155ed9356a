import type { Hit, Shape } from "#core/picture/shape";
import type { SurfaceReader } from "#core/picture/surfaceReader";
import { BLOCK_SHARE, type View } from "#core/picture/view";
import { plus, scaled, type Rgb } from "#core/shade/rgb";
import { along, cross, dot, unit, type Vector } from "#core/shade/vector";

/** What the block stands before: mid-grey. */
export const BACKDROP: Rgb = [0.18, 0.18, 0.18];
/** From where it is seen: to the right of its front, and above. */
const TO_EYE = unit([0.55, 0.42, 1]);
export const BLOCK_STEPS = 96;
export const BLOCK_SHADOW_STEPS = 24;

/** What a block is, as one view sees it: in its own place, and turned. Lengths are in millimetres. */
export interface Block {
  half: Vector;
  round: number;
  /** Where the eye is, and what lies to its right and above it. */
  eyeAt: Vector;
  right: Vector;
  up: Vector;
  toEye: Vector;
  /** Its own directions in the world, by rows. */
  turned: readonly [Vector, Vector, Vector];
}

export function blockIn({ width, mmPerPx, turn = { right: 0, down: 0 } }: View): Block {
  const wide = width * mmPerPx * BLOCK_SHARE;
  const half: Vector = [wide / 2, wide / 3, wide / 4];
  const into: Vector = [-TO_EYE[0], -TO_EYE[1], -TO_EYE[2]];
  const right = unit(cross(into, [0, 1, 0]));
  const [around, over] = [(turn.right * Math.PI) / 180, (turn.down * Math.PI) / 180];
  const [sa, ca, so, co] = [Math.sin(around), Math.cos(around), Math.sin(over), Math.cos(over)];
  return {
    half,
    round: Math.min(wide * 0.06, half[2] / 2),
    eyeAt: along([0, 0, 0], TO_EYE, wide * 3),
    right,
    up: cross(right, into),
    toEye: TO_EYE,
    // About the upright axis, then about the one to the right.
    turned: [
      [ca, 0, sa],
      [so * sa, co, -so * ca],
      [-co * sa, so, co * ca],
    ],
  };
}

/**
 * A block with rounded edges, as wide as three fifths of the view: half as deep and two thirds as high as wide. Its sides carry the
 * material at its real size, and relief changes its outline. By sphere tracing (Hart 1996).
 */
export function blockShape(
  view: View,
  repeat: { width: number; height: number },
  reader: SurfaceReader,
): Shape {
  const { half, round, eyeAt: eyeInWorld, right, up, turned } = blockIn(view);
  const wide = half[0] * 2;
  const inWorld = (v: Vector): Vector => [dot(turned[0], v), dot(turned[1], v), dot(turned[2], v)];
  const inBlock = (v: Vector): Vector =>
    plus(plus(scaled(turned[0], v[0]), scaled(turned[1], v[1])), scaled(turned[2], v[2]));
  const eyeAt = inBlock(eyeInWorld);

  const inner: Vector = [half[0] - round, half[1] - round, half[2] - round];
  /** How far a place is outside of what the rounding goes out from, along one axis. */
  const beyond = (at: number, axis: 0 | 1 | 2) => Math.max(Math.abs(at) - inner[axis], 0);
  /** Which way is out. */
  function outward(p: Vector): Vector {
    const [x, y, z] = [beyond(p[0], 0), beyond(p[1], 1), beyond(p[2], 2)];
    if (x === 0 && y === 0 && z === 0) return [0, 0, 1];
    return unit([x * Math.sign(p[0]), y * Math.sign(p[1]), z * Math.sign(p[2])]);
  }
  // Each side has the image upright, from its own upper left corner. In numbers alone: a picture asks for this millions of times.
  const isFront = (ax: number, ay: number, az: number) => az >= ax && az >= ay;
  const placeU = (isSide: boolean, x: number, z: number) =>
    (view.centre.x + (isSide ? half[0] * 2 + half[2] - z : x + half[0])) / repeat.width;
  const placeV = (isTop: boolean, y: number, z: number) =>
    (view.centre.y + (isTop ? z - half[2] : half[1] - y)) / repeat.height;
  function uvAt(p: Vector, normal: Vector): { u: number; v: number; right: Vector } {
    const [ax, ay, az] = [Math.abs(normal[0]), Math.abs(normal[1]), Math.abs(normal[2])];
    const isSide = !isFront(ax, ay, az) && ax >= ay;
    const isTop = !isFront(ax, ay, az) && !isSide;
    return {
      u: placeU(isSide, p[0], p[2]),
      v: placeV(isTop, p[1], p[2]),
      right: isSide ? [0, 0, -1] : [1, 0, 0],
    };
  }
  // Relief is steeper than a distance may be: steps are shortened by it.
  const pace = reader.hasRelief ? 0.6 : 1;
  const above = reader.hasRelief ? Math.max(0, reader.topMm) : 0;
  /** Below 0 inside; with its relief, which far away does not matter. */
  function distance(x: number, y: number, z: number): number {
    const [ox, oy, oz] = [beyond(x, 0), beyond(y, 1), beyond(z, 2)];
    const inside = Math.max(Math.abs(x) - inner[0], Math.abs(y) - inner[1], Math.abs(z) - inner[2]);
    const smooth = Math.sqrt(ox * ox + oy * oy + oz * oz) + Math.min(inside, 0) - round;
    if (!reader.hasRelief || smooth > reader.topMm + wide * 0.02) return smooth - above;
    const isSide = !isFront(ox, oy, oz) && ox >= oy;
    const isTop = !isFront(ox, oy, oz) && !isSide;
    return smooth - reader.heightAt(placeU(isSide, x, z), placeV(isTop, y, z));
  }
  const sight = (x: number, y: number): Vector => {
    const [across, upward] = [(x - view.width / 2) * view.mmPerPx, (view.height / 2 - y) * view.mmPerPx];
    const target: Vector = [
      right[0] * across + up[0] * upward,
      right[1] * across + up[1] * upward,
      right[2] * across + up[2] * upward,
    ];
    return inBlock(unit([target[0] - eyeInWorld[0], target[1] - eyeInWorld[1], target[2] - eyeInWorld[2]]));
  };
  const near = view.mmPerPx * 0.2;
  return {
    hit(x, y) {
      const direction = sight(x, y);
      // The ball around it tells at once where there is nothing.
      const radius = Math.hypot(...half) + Math.max(0, reader.topMm);
      const nearest = -dot(eyeAt, direction);
      const miss = dot(eyeAt, eyeAt) - nearest * nearest;
      if (miss > radius * radius) return undefined;
      let way = nearest - Math.sqrt(radius * radius - miss);
      for (let step = 0; step < BLOCK_STEPS && way < nearest + radius; step++) {
        const d = distance(
          eyeAt[0] + direction[0] * way,
          eyeAt[1] + direction[1] * way,
          eyeAt[2] + direction[2] * way,
        );
        if (d < near) {
          const p = along(eyeAt, direction, way);
          const normal = outward(p);
          const { u, v, right: toRight } = uvAt(p, normal);
          const upward = unit(cross(normal, toRight));
          return {
            u,
            v,
            frame: {
              right: inWorld(cross(upward, normal)),
              up: inWorld(upward),
              normal: inWorld(normal),
            },
            place: p,
            eye: inWorld([-direction[0], -direction[1], -direction[2]]),
          } satisfies Hit;
        }
        way += Math.max(near * 0.5, d * pace);
      }
      return undefined;
    },
    behind: () => BACKDROP,
    thickMm: half[2] * 2,
    reachedBy({ place, frame }, toLamp) {
      if (!reader.hasRelief) return 1;
      const lamp = inBlock(toLamp);
      const start = along(place, inBlock(frame.normal), near * 2);
      let open = 1;
      for (let step = 0, way = near * 2; step < BLOCK_SHADOW_STEPS; step++) {
        const d = distance(start[0] + lamp[0] * way, start[1] + lamp[1] * way, start[2] + lamp[2] * way);
        open = Math.min(open, 0.5 + d / (0.0175 * way + 1e-6));
        if (open <= 0) return 0;
        if (way > wide) break;
        way += Math.max(near, d * pace);
      }
      return Math.max(0, open);
    },
    fromFront: ([x, y, z]) =>
      unit([
        right[0] * x + up[0] * y + TO_EYE[0] * z,
        right[1] * x + up[1] * y + TO_EYE[1] * z,
        right[2] * x + up[2] * y + TO_EYE[2] * z,
      ]),
  };
}
