import { dielectricAlbedo, manyTimes, mirrorAlbedo, mirrorAlbedoAverage } from "#core/shade/albedo";
import {
  dielectricFresnel,
  dipsOf,
  f0OfIor,
  iorOfF0,
  metalFresnel,
  metalFresnelAverage,
} from "#core/shade/fresnel";
import { fuzzAlbedo, fuzzLobe } from "#core/shade/fuzz";
import { alphaOf, ggxDistribution, litAndSeen } from "#core/shade/ggx";
import { mixed, plus, scaled, times, WHITE, type Rgb } from "#core/shade/rgb";
import type { Surface } from "#core/shade/surface";
import { unit, type Vector } from "#core/shade/vector";

/**
 * Light that a surface sends towards the eye, for light from one direction: the bidirectional scattering function times the cosine.
 * Layers lie on each other as in OpenPBR: fuzz, coat, then metal or dielectric over what scatters inside. What a layer reflects
 * does not reach the next one, and what it turns back from below comes down again; the pairs of directions weigh alike, so light and eye
 * can be exchanged.
 *
 * Not in it: how far light is scattered inside before it comes out.
 */
export interface Scattering {
  /** @param light direction to the light, in the surface's frame, z above 0 @param eye the same to the eye */
  reflected(light: Vector, eye: Vector): Rgb;
  /** Light from behind that is scattered to the eye by a thin sheet. @param cosine of the light to the normal's other side */
  throughScattered(cosine: number, eye: Vector): Rgb;
  /** Share of what is straight behind that is seen: through glass. @param thickMm from its front to its back */
  throughClear(eye: Vector, thickMm: number): Rgb;
  /** By how much what is seen through both faces is blurred: the tangent of an angle. */
  throughSpread: number;
  /** Share of what lies in the mirror direction, blurred by the roughness of each layer, that is seen. */
  mirrored(eye: Vector): { base: Rgb; coat: number };
  /** Share of the light from all sides, by its cosine, that is scattered to the eye. */
  scattered(eye: Vector): Rgb;
  /** Of the base, as it looks under its coat. */
  roughness: number;
}

const luster = (cosine: number) => Math.max(1e-6, cosine);

/** Prepares what does not depend on directions. */
export function scatteringOf(surface: Surface): Scattering {
  const base = baseOf(surface);
  const coat = coatOf(surface);
  const fuzz = fuzzOf(surface);
  const hasLayers = surface.coatWeight > 0 || surface.fuzzWeight > 0;
  const above = hasLayers ? layerOf((cosine) => coat.past(cosine) * fuzz.past(cosine)) : NOTHING;
  const underFuzz = surface.fuzzWeight > 0 ? layerOf(fuzz.past) : NOTHING;
  /** What gets past all that reflects, to where light is scattered; over all directions as much gets out as got in. */
  const pastAll = (cosine: number) => (1 - base.albedo.towards(cosine)) * above.past(cosine);
  const spread = 1 / (Math.PI * Math.max(1e-6, hasLayers ? averaged(pastAll) : 1 - base.albedo.average));
  return {
    reflected(light, eye) {
      const cosineIn = light[2];
      const cosineOut = eye[2];
      if (cosineIn <= 0 || cosineOut <= 0) return [0, 0, 0];
      const half = unit([light[0] + eye[0], light[1] + eye[1], light[2] + eye[2]]);
      const atHalf = Math.min(1, half[0] * light[0] + half[1] * light[1] + half[2] * light[2]);
      const pair: Pair = { cosineIn, cosineOut, cosineHalf: half[2], atHalf };
      const glossy = scaled(base.glossy(pair), overGlossy(above, pair, broadness(base.roughness)));
      const diffuse = scaled(base.inside, pastAll(cosineIn) * pastAll(cosineOut) * spread);
      const coated = scaled(coat.glossy(pair), overGlossy(underFuzz, pair, broadness(surface.coatRoughness)));
      const f = plus(plus(times(plus(glossy, diffuse), coat.tint), coated), fuzz.lobe(pair));
      return scaled(f, cosineIn);
    },
    throughScattered(cosine, eye) {
      if (cosine <= 0 || eye[2] <= 0) return [0, 0, 0];
      return scaled(times(base.through, coat.tint), cosine * base.passes(cosine, eye[2]));
    },
    throughClear(eye, thickMm) {
      const cosine = luster(eye[2]);
      return times(base.clear(cosine, thickMm), scaled(coat.tint, coat.past(cosine)));
    },
    throughSpread: base.throughSpread,
    mirrored(eye) {
      const cosine = luster(eye[2]);
      return {
        base: scaled(times(base.mirror(cosine), coat.tint), above.past(cosine)),
        coat: (1 - coat.past(cosine)) * fuzz.past(cosine),
      };
    },
    scattered(eye) {
      const cosine = luster(eye[2]);
      return plus(times(scaled(base.inside, pastAll(cosine)), coat.tint), fuzz.all(cosine));
    },
    roughness: base.roughness,
  };
}

/** Two directions in a surface's frame, and what lies half-way. */
interface Pair {
  cosineIn: number;
  cosineOut: number;
  cosineHalf: number;
  /** Between the half-way direction and either. */
  atHalf: number;
}

/** Without the Fresnel term. */
function facets({ cosineIn, cosineOut, cosineHalf }: Pair, alpha: number): number {
  const spread = ggxDistribution(cosineHalf, alpha) * litAndSeen(cosineIn, cosineOut, alpha);
  return spread / (4 * cosineIn * cosineOut);
}

/** The shape of what is reflected many times, the same towards all sides but for what is reflected once. */
function manyShape({ cosineIn, cosineOut }: Pair, roughness: number): number {
  const missing = 1 - mirrorAlbedoAverage(roughness);
  if (missing < 1e-6) return 0;
  const share = (1 - mirrorAlbedo(cosineIn, roughness)) * (1 - mirrorAlbedo(cosineOut, roughness));
  return share / (Math.PI * missing);
}

/** A coat makes what lies under it look rougher (OpenPBR 1.1, coat roughening). */
const underCoat = ({ roughness, coatWeight, coatRoughness }: Surface): number =>
  coatWeight === 0
    ? roughness
    : roughness + (Math.min(1, (roughness ** 4 + 2 * coatRoughness ** 4) ** 0.25) - roughness) * coatWeight;

function baseOf(surface: Surface) {
  const { metalness, specularColor } = surface;
  const roughness = underCoat(surface);
  const alpha = alphaOf(roughness);
  const f0 = Math.min(1, f0OfIor(surface.ior) * surface.specularWeight);
  const ior = iorOfF0(f0);
  const albedo = dielectricAlbedo(f0, roughness);
  const metal = metalness === 0 ? undefined : metalOf(surface, roughness);
  // Of what gets inside, the clear share goes on; of the rest, a thin sheet lets some out at its other side.
  const scatters = (1 - metalness) * (1 - surface.transmissionWeight);
  const comesBack = surface.thinWalled ? 1 - surface.translucencyWeight : 1;
  const inside = mixed(surface.baseColor, surface.subsurfaceColor, surface.subsurfaceWeight);
  /** A clear sheet reflects at its back as well, to and fro inside: F + F(1 − F)² (1 + F² + …) = 2F / (1 + F). */
  const sheet = surface.thinWalled ? surface.transmissionWeight : 0;
  const bothSides = (once: number) => once + ((2 * once) / (1 + once) - once) * sheet;
  /** Gets in and out again, past the surface; brightest possible where the surface reflects nothing. */
  const passes = (cosineIn: number, cosineOut: number) =>
    ((1 - albedo.towards(cosineIn)) * (1 - albedo.towards(cosineOut))) /
    (Math.PI * Math.max(1e-6, 1 - albedo.average));
  return {
    albedo,
    roughness,
    inside: scaled(inside, scatters * comesBack),
    passes,
    glossy(pair: Pair): Rgb {
      const once = facets(pair, alpha);
      const many = manyShape(pair, roughness);
      const dielectric = once * bothSides(dielectricFresnel(pair.atHalf, ior)) + many * albedo.many;
      const coloured = scaled(specularColor, dielectric * (1 - metalness));
      if (!metal) return coloured;
      const shown = plus(scaled(metal.towards(pair.atHalf), once), scaled(metal.many, many));
      return plus(coloured, scaled(shown, metalness));
    },
    through: scaled(
      surface.translucencyColor,
      surface.thinWalled ? scatters * surface.translucencyWeight : 0,
    ),
    /** A facet that leans by a small angle bends light by n − 1 times that; half of the facets lean by less than α. Two faces add up as squares. */
    throughSpread: Math.max(0, surface.ior - 1) * alpha * Math.SQRT2,
    clear(cosine: number, thickMm: number): Rgb {
      const turnedBack = bothSides(albedo.towards(cosine));
      return scaled(
        throughDepth(surface, cosine, thickMm),
        (1 - metalness) * surface.transmissionWeight * (1 - turnedBack),
      );
    },
    mirror(cosine: number): Rgb {
      const coloured = scaled(specularColor, bothSides(albedo.towards(cosine)) * (1 - metalness));
      return metal ? plus(coloured, scaled(metal.towards(cosine), metalness)) : coloured;
    },
  };
}

/** Beer and Lambert: each millimetre takes the same share of what is left. */
function throughDepth(surface: Surface, cosine: number, thickMm: number): Rgb {
  const { transmissionColor: color, transmissionDepthMm: depthMm, thinWalled, ior } = surface;
  if (depthMm === 0 || thinWalled) return color;
  const inside = Math.sqrt(Math.max(1e-6, 1 - (1 - cosine * cosine) / (ior * ior)));
  const depths = thickMm / inside / depthMm;
  return [color[0] ** depths, color[1] ** depths, color[2] ** depths];
}

/** A metal's reflectance by angle, and what is reflected many times; its weight is in both. */
function metalOf({ baseColor, specularColor, specularWeight }: Surface, roughness: number) {
  const dips = dipsOf(baseColor, specularColor);
  const many = (i: 0 | 1 | 2) =>
    specularWeight * manyTimes(Math.min(1, metalFresnelAverage(baseColor[i], dips[i])), roughness);
  const at = (cosine: number, i: 0 | 1 | 2) => specularWeight * metalFresnel(cosine, baseColor[i], dips[i]);
  return {
    many: [many(0), many(1), many(2)] as Rgb,
    towards: (cosine: number): Rgb => [at(cosine, 0), at(cosine, 1), at(cosine, 2)],
  };
}

function coatOf(surface: Surface) {
  const { coatWeight: weight, coatRoughness: roughness, coatIor: ior } = surface;
  const tint = mixed(WHITE, surface.coatColor, weight);
  if (weight === 0) return { tint, past: () => 1, glossy: (): Rgb => [0, 0, 0] };
  const alpha = alphaOf(roughness);
  const albedo = dielectricAlbedo(f0OfIor(ior), roughness);
  return {
    tint,
    past: (cosine: number) => 1 - weight * albedo.towards(cosine),
    glossy(pair: Pair): Rgb {
      const once = facets(pair, alpha) * dielectricFresnel(pair.atHalf, ior);
      const f = weight * (once + manyShape(pair, roughness) * albedo.many);
      return [f, f, f];
    },
  };
}

function fuzzOf({ fuzzWeight, fuzzColor, fuzzRoughness }: Surface) {
  const strongest = fuzzWeight * Math.max(...fuzzColor);
  return {
    lobe: ({ cosineIn, cosineOut, cosineHalf }: Pair): Rgb =>
      fuzzWeight === 0
        ? [0, 0, 0]
        : scaled(fuzzColor, fuzzWeight * fuzzLobe(cosineIn, cosineOut, cosineHalf, fuzzRoughness)),
    all: (cosine: number): Rgb =>
      fuzzWeight === 0 ? [0, 0, 0] : scaled(fuzzColor, fuzzWeight * fuzzAlbedo(cosine, fuzzRoughness)),
    past: (cosine: number): number =>
      strongest === 0 ? 1 : 1 - strongest * fuzzAlbedo(cosine, fuzzRoughness),
  };
}

/** What a layer lets past, each way, by the cosine. */
interface Layer {
  past(cosine: number): number;
  /** Over all directions, weighted by their cosine. */
  mean: number;
}
const NOTHING: Layer = { past: () => 1, mean: 1 };
const layerOf = (past: Layer["past"]): Layer => ({ past, mean: averaged(past) });

/** Gauss and Legendre's places and weights from 0 to 1. */
export const PLACES = [0.033765, 0.169395, 0.38069, 0.61931, 0.830605, 0.966235];
export const WEIGHTS = [0.085662, 0.180381, 0.233957, 0.233957, 0.180381, 0.085662];

/** ∫ 2μ f(μ) dμ with μ = t², since what a layer reflects changes most where light grazes. */
function averaged(f: (cosine: number) => number): number {
  let sum = 0;
  for (let i = 0; i < PLACES.length; i++) sum += WEIGHTS[i] * 4 * PLACES[i] ** 3 * f(PLACES[i] ** 2);
  return sum;
}

/** How far a lobe spreads: 0 is a mirror, whose light comes and goes at one angle; 1 is the same towards all sides. */
const broadness = (roughness: number) => roughness * roughness;

/**
 * What is left of a lobe under a layer. Light goes past it twice, and what it turns back from below comes down again: over all directions
 * as much gets out towards one as gets in from there, exactly for a mirror (√(p·p′)) and for what is the same all round (p·p′ / mean).
 */
function overGlossy(layer: Layer, { cosineIn, cosineOut }: Pair, broad: number): number {
  if (layer === NOTHING) return 1;
  const [into, out] = [layer.past(cosineIn), layer.past(cosineOut)];
  const between = (past: number) => past + (layer.mean - past) * broad;
  return (into * out) / Math.sqrt(Math.max(1e-9, between(into) * between(out)));
}
