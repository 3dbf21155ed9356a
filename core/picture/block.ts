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

  /** The distance to the smooth block: below 0 inside. */
  function smooth(p: Vector): number {
    const q = [0, 1, 2].map((i) => Math.abs(p[i]) - half[i] + round);
    const outside = Math.hypot(Math.max(q[0], 0), Math.max(q[1], 0), Math.max(q[2], 0));
    return outside + Math.min(Math.max(q[0], q[1], q[2]), 0) - round;
  }
  /** Which way is out. */
  function outward(p: Vector): Vector {
    const q = [0, 1, 2].map((i) => Math.max(Math.abs(p[i]) - half[i] + round, 0) * Math.sign(p[i]));
    return q[0] === 0 && q[1] === 0 && q[2] === 0 ? [0, 0, 1] : unit([q[0], q[1], q[2]]);
  }
  /** Each side has the image upright, from its own upper left corner. */
  function uvAt(p: Vector, normal: Vector): { u: number; v: number; right: Vector } {
    const [ax, ay, az] = normal.map(Math.abs);
    const place = (x: number, y: number, toRight: Vector) => ({
      u: (view.centre.x + x) / repeat.width,
      v: (view.centre.y + y) / repeat.height,
      right: toRight,
    });
    if (az >= ax && az >= ay) return place(p[0] + half[0], half[1] - p[1], [1, 0, 0]);
    if (ax >= ay) return place(half[0] * 2 + half[2] - p[2], half[1] - p[1], [0, 0, -1]);
    return place(p[0] + half[0], p[2] - half[2], [1, 0, 0]);
  }
  const heightAt = (p: Vector) => {
    const { u, v } = uvAt(p, outward(p));
    return reader.heightAt(u, v);
  };
  // Relief is steeper than a distance may be: steps are shortened by it.
  const pace = reader.hasRelief ? 0.6 : 1;
  const distance = (p: Vector) => {
    const d = smooth(p);
    // Far away its relief does not matter.
    return !reader.hasRelief || d > reader.topMm + wide * 0.02
      ? d - Math.max(0, reader.topMm) * Number(reader.hasRelief)
      : d - heightAt(p);
  };
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
        const p = along(eyeAt, direction, way);
        const d = distance(p);
        if (d < near) {
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
        const d = distance(along(start, lamp, way));
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
