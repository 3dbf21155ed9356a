import { hash } from "#core/pattern/random";

/**
 * Value noise −1..1 on a lattice of `cellsX` × `cellsY` over the unit square, exactly periodic in both directions:
 * noise(u, v) = noise(u + 1, v). Quintic fade (Perlin 2002).
 */
export function periodicNoise(u: number, v: number, cellsX: number, cellsY: number, seed: number): number {
  const x = u * cellsX;
  const y = v * cellsY;
  const x0 = Math.floor(x);
  const y0 = Math.floor(y);
  const fx = fade(x - x0);
  const fy = fade(y - y0);
  const xa = modulo(x0, cellsX);
  const xb = modulo(x0 + 1, cellsX);
  const ya = modulo(y0, cellsY);
  const yb = modulo(y0 + 1, cellsY);
  const top = hash(xa, ya, seed) * (1 - fx) + hash(xb, ya, seed) * fx;
  const bottom = hash(xa, yb, seed) * (1 - fx) + hash(xb, yb, seed) * fx;
  return (top * (1 - fy) + bottom * fy) * 2 - 1;
}

/** Octaves of periodic noise, each twice as fine and half as strong; −1..1. */
export function periodicFbm(
  u: number,
  v: number,
  cellsX: number,
  cellsY: number,
  octaves: number,
  seed: number,
): number {
  let sum = 0;
  let weight = 0.5;
  let total = 0;
  for (let octave = 0; octave < octaves; octave++) {
    sum += weight * periodicNoise(u, v, cellsX << octave, cellsY << octave, seed + octave * 101);
    total += weight;
    weight /= 2;
  }
  return sum / total;
}

export function modulo(a: number, n: number): number {
  return ((a % n) + n) % n;
}

/** 0 below a, 1 above b, smooth between. */
export function smoothstep(a: number, b: number, v: number): number {
  const t = Math.min(1, Math.max(0, (v - a) / (b - a)));
  return t * t * (3 - 2 * t);
}

const fade = (t: number) => t * t * t * (t * (t * 6 - 15) + 10);
