import type { Rgb } from "#core/shade/rgb";

/** Reflectance at normal incidence of a dielectric in air. */
export const f0OfIor = (ior: number): number => ((ior - 1) / (ior + 1)) ** 2;

/** The index of refraction that reflects so much at normal incidence; below 1 for all that is reflected. */
export function iorOfF0(f0: number): number {
  const root = Math.sqrt(Math.min(f0, 0.9999));
  return (1 + root) / (1 - root);
}

/**
 * Reflectance of a smooth dielectric for light without polarisation (Fresnel's equations).
 * @param cosine of the angle to the normal, from 0 to 1
 * @param ior of the inside against the outside, 1 or more
 */
export function dielectricFresnel(cosine: number, ior: number): number {
  if (ior === 1) return 0;
  const inside = Math.sqrt(1 - (1 - cosine * cosine) / (ior * ior));
  const parallel = (ior * cosine - inside) / (ior * cosine + inside);
  const perpendicular = (cosine - ior * inside) / (cosine + ior * inside);
  return (parallel * parallel + perpendicular * perpendicular) / 2;
}

/** Where a metal's edge tint is said: the angle of 82°. */
const EDGE = 1 / 7;

/**
 * How much the dip near the edge of a metal's Fresnel curve takes away (the F82 tint of OpenPBR's metal): the factor on μ (1 − μ)⁶.
 * @param f0 reflectance at normal incidence
 * @param tint of Schlick's curve at 82°; 1 leaves it as it is
 */
export function edgeDip(f0: number, tint: number): number {
  const schlick = f0 + (1 - f0) * (1 - EDGE) ** 5;
  return (schlick * (1 - tint)) / (EDGE * (1 - EDGE) ** 6);
}

/** Reflectance of a metal by its colour at normal incidence and at its edge, for one channel. */
export function metalFresnel(cosine: number, f0: number, dip: number): number {
  const away = 1 - cosine;
  const away5 = away ** 5;
  return Math.max(0, f0 + (1 - f0) * away5 - dip * cosine * away5 * away);
}

/** The same over all directions of a hemisphere, weighted by their cosine: ∫ 2μ F(μ) dμ. */
export const metalFresnelAverage = (f0: number, dip: number): number => f0 + (1 - f0) / 21 - dip / 126;

export const dipsOf = (f0: Rgb, tint: Rgb): Rgb => [
  edgeDip(f0[0], tint[0]),
  edgeDip(f0[1], tint[1]),
  edgeDip(f0[2], tint[2]),
];
