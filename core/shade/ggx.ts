import { unit, type Vector } from "#core/shade/vector";

/** A surface is never smoother: below it a lamp without size would not be seen at all. */
const LEAST_ALPHA = 1e-3;

/** Microfacet α of a perceptual roughness. */
export const alphaOf = (roughness: number): number => Math.max(LEAST_ALPHA, roughness * roughness);

/** How many microfacets look along a direction (Trowbridge and Reitz 1975; Walter and others 2007). @param cosine to the normal */
export function ggxDistribution(cosine: number, alpha: number): number {
  const alpha2 = alpha * alpha;
  const spread = cosine * cosine * (alpha2 - 1) + 1;
  return alpha2 / (Math.PI * spread * spread);
}

/** Smith's Λ for one direction. */
function lambda(cosine: number, alpha: number): number {
  const cosine2 = cosine * cosine;
  return (Math.sqrt(1 + (alpha * alpha * (1 - cosine2)) / cosine2) - 1) / 2;
}

/** Microfacets that are seen from one side. */
export const seenFrom = (cosine: number, alpha: number): number => 1 / (1 + lambda(cosine, alpha));

/** Microfacets that are lit and seen, their heights correlated (Heitz 2014). */
export const litAndSeen = (cosineIn: number, cosineOut: number, alpha: number): number =>
  1 / (1 + lambda(cosineIn, alpha) + lambda(cosineOut, alpha));

/**
 * A normal of a microfacet that is seen, by its visible share (Heitz 2018).
 * @param out direction to the eye in the surface's frame
 * @param u two numbers from 0 to 1
 */
export function visibleNormal(out: Vector, alpha: number, u: readonly [number, number]): Vector {
  const stretched = unit([alpha * out[0], alpha * out[1], out[2]]);
  const flat = stretched[0] ** 2 + stretched[1] ** 2;
  const first: Vector =
    flat > 0 ? [-stretched[1] / Math.sqrt(flat), stretched[0] / Math.sqrt(flat), 0] : [1, 0, 0];
  const second: Vector = [
    stretched[1] * first[2] - stretched[2] * first[1],
    stretched[2] * first[0] - stretched[0] * first[2],
    stretched[0] * first[1] - stretched[1] * first[0],
  ];
  const radius = Math.sqrt(u[0]);
  const turn = 2 * Math.PI * u[1];
  const a = radius * Math.cos(turn);
  const share = (1 + stretched[2]) / 2;
  const b = (1 - share) * Math.sqrt(1 - a * a) + share * radius * Math.sin(turn);
  const up = Math.sqrt(Math.max(0, 1 - a * a - b * b));
  const normal = (i: 0 | 1 | 2) => a * first[i] + b * second[i] + up * stretched[i];
  return unit([alpha * normal(0), alpha * normal(1), Math.max(1e-9, normal(2))]);
}
