import { modulo, periodicFbm, periodicNoise, smoothstep } from "#core/pattern/noise";
import { linear, mix, scaled, type Surface } from "#core/pattern/patternSet";
import { hash } from "#core/pattern/random";

export interface BrickOptions {
  seed: number;
  /** Work size and joint in millimetres. */
  brick: { width: number; height: number };
  joint: number;
  /** Whole bricks across and courses up, of which the bond must come out even: two by two for half bond. */
  across: number;
  courses: number;
  /** By which part of a brick each course is shifted against the one before: 0, 1/4, 1/3, 1/2 (unless given). */
  bond?: number;
  /** sRGB colours, from which each brick takes one or a mixture of two. */
  colors: string[];
  mortar: string;
  /** Millimetres that the mortar lies back. */
  recess: number;
  /** 0..1: how uneven faces, edges and positions are. */
  roughness: number;
  /** 0..1: how dark burnt patches get. */
  burn?: number;
}

/** Brick in courses, each shifted against the one before. */
export function brick(options: BrickOptions): {
  surface: Surface;
  repeat: { width: number; height: number };
} {
  const { seed, brick, joint, across, courses, roughness, recess, burn = 0.25, bond = 1 / 2 } = options;
  const pitchX = brick.width + joint;
  const pitchY = brick.height + joint;
  const repeat = { width: across * pitchX, height: courses * pitchY };
  const colors = options.colors.map(linear);
  const mortar = linear(options.mortar);
  const cells = (mm: number) => Math.max(1, Math.round(repeat.width / mm));
  const cellsY = (mm: number) => Math.max(1, Math.round(repeat.height / mm));
  const cache = new Map<number, ReturnType<typeof makeOne>>();

  function makeOne(column: number, course: number) {
    const r = (k: number) => hash(column, course, seed + k);
    const a = colors[Math.floor(r(1) * colors.length)];
    const b = colors[Math.floor(r(2) * colors.length)];
    return {
      color: scaled(mix(a, b, r(3) * 0.6), 0.86 + 0.28 * r(4)),
      shiftX: (r(5) - 0.5) * 2.4 * roughness,
      shiftY: (r(6) - 0.5) * 2 * roughness,
      tiltX: (r(7) - 0.5) * 1.6 * roughness,
      tiltY: (r(8) - 0.5) * 1.2 * roughness,
      proud: (r(9) - 0.5) * 1.4 * roughness,
      burnt: r(10) ** 3,
    };
  }

  const surface: Surface = (u, v) => {
    const warp = 1.5 * roughness;
    const x = u * repeat.width + warp * periodicNoise(u, v, cells(18), cellsY(18), seed + 20);
    const y = v * repeat.height + warp * periodicNoise(u, v, cells(18), cellsY(18), seed + 21);
    const row = Math.floor(y / pitchY);
    const course = modulo(row, courses);
    const along = x - modulo(course * bond, 1) * pitchX;
    const column = modulo(Math.floor(along / pitchX), across);
    const key = course * across + column;
    let one = cache.get(key);
    if (!one) cache.set(key, (one = makeOne(column, course)));

    const localX = modulo(along, pitchX) - pitchX / 2 - one.shiftX;
    const localY = y - row * pitchY - pitchY / 2 - one.shiftY;
    // Distance inside the edge of a rectangle with rounded corners; negative in the joint.
    const radius = 1.5 + 3 * roughness;
    const qx = Math.abs(localX) - brick.width / 2 + radius;
    const qy = Math.abs(localY) - brick.height / 2 + radius;
    const inside = radius - Math.hypot(Math.max(qx, 0), Math.max(qy, 0)) - Math.min(Math.max(qx, qy), 0);

    const grain = periodicFbm(u, v, cells(2.2), cellsY(2.2), 2, seed + 30);
    const patches = periodicFbm(u, v, cells(60), cellsY(60), 4, seed + 31);
    const pits = smoothstep(0.5, 0.8, periodicNoise(u, v, cells(5), cellsY(5), seed + 32));
    const cover = smoothstep(-0.5, 0.5 + roughness, inside);

    const edge = smoothstep(0, 2 + 4 * roughness, inside);
    const face =
      one.proud +
      (one.tiltX * localX) / brick.width +
      (one.tiltY * localY) / brick.height +
      0.35 * roughness * grain -
      1.1 * roughness * pits;
    const brickHeight = face - (1 - edge) * (0.8 + 1.4 * roughness);
    const mortarGrain = periodicFbm(u, v, cells(1.6), cellsY(1.6), 2, seed + 40);
    const mortarHeight = -recess + 0.45 * mortarGrain + 0.35 * patches;

    const dark = 1 - burn * one.burnt * smoothstep(-0.3, 0.6, patches);
    const brickColor = scaled(
      one.color,
      dark * (1 + 0.13 * grain + 0.1 * patches) * (1 - 0.35 * pits) * (0.88 + 0.12 * edge),
    );
    const mortarColor = scaled(mortar, 1 + 0.16 * mortarGrain + 0.1 * patches);
    return {
      color: mix(mortarColor, brickColor, cover),
      heightMm: mortarHeight + (brickHeight - mortarHeight) * cover,
      roughness: 0.93 + (0.74 - 0.93 + 0.08 * grain + 0.06 * patches) * cover,
    };
  };
  return { surface, repeat };
}
