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
 * does not reach the next one; the pairs of directions weigh alike, so light and eye can be exchanged.
 *
 * Not in it: what a coat and the base throw to and fro between each other, and how far light travels inside before it comes out.
 */
export interface Scattering {
  /** @param light direction to the light, in the surface's frame, z above 0 @param eye the same to the eye */
  reflected(light: Vector, eye: Vector): Rgb;
  /** Light from behind that is scattered to the eye by a thin sheet. @param cosine of the light to the normal's other side */
  throughScattered(cosine: number, eye: Vector): Rgb;
  /** Share of what is straight behind that is seen: through glass. */
  throughClear(eye: Vector): Rgb;
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
  return {
    reflected(light, eye) {
      const cosineIn = light[2];
      const cosineOut = eye[2];
      if (cosineIn <= 0 || cosineOut <= 0) return [0, 0, 0];
      const half = unit([light[0] + eye[0], light[1] + eye[1], light[2] + eye[2]]);
      const atHalf = Math.min(1, half[0] * light[0] + half[1] * light[1] + half[2] * light[2]);
      const pair: Pair = { cosineIn, cosineOut, cosineHalf: half[2], atHalf };
      let f = plus(
        times(base.glossy(pair), coat.overGlossy(pair)),
        times(base.diffuse(pair), coat.overDiffuse(pair)),
      );
      f = plus(f, coat.glossy(pair));
      f = plus(scaled(f, fuzz.over(cosineIn, cosineOut)), fuzz.lobe(pair));
      return scaled(f, cosineIn);
    },
    throughScattered(cosine, eye) {
      if (cosine <= 0 || eye[2] <= 0) return [0, 0, 0];
      return scaled(times(base.through, coat.tint), cosine * base.passes(cosine, eye[2]));
    },
    throughClear(eye) {
      return times(base.clear(luster(eye[2])), scaled(coat.tint, 1 - coat.towards(luster(eye[2]))));
    },
    mirrored(eye) {
      const cosine = luster(eye[2]);
      const ofCoat = coat.towards(cosine);
      const left = fuzz.over(cosine, cosine);
      return {
        base: scaled(times(base.mirror(cosine), coat.tint), (1 - ofCoat) * left),
        coat: ofCoat * left,
      };
    },
    scattered(eye) {
      const cosine = luster(eye[2]);
      const inside = scaled(base.inside, (1 - base.albedo.towards(cosine)) * (1 - coat.towards(cosine)));
      return plus(scaled(times(inside, coat.tint), fuzz.over(cosine, cosine)), fuzz.all(cosine));
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
    diffuse: ({ cosineIn, cosineOut }: Pair): Rgb =>
      scaled(inside, scatters * comesBack * passes(cosineIn, cosineOut)),
    through: scaled(
      surface.translucencyColor,
      surface.thinWalled ? scatters * surface.translucencyWeight : 0,
    ),
    clear(cosine: number): Rgb {
      const turnedBack = bothSides(albedo.towards(cosine));
      return scaled(
        surface.transmissionColor,
        (1 - metalness) * surface.transmissionWeight * (1 - turnedBack),
      );
    },
    mirror(cosine: number): Rgb {
      const coloured = scaled(specularColor, bothSides(albedo.towards(cosine)) * (1 - metalness));
      return metal ? plus(coloured, scaled(metal.towards(cosine), metalness)) : coloured;
    },
  };
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
  const none = {
    tint,
    towards: () => 0,
    glossy: (): Rgb => [0, 0, 0],
    overGlossy: (): Rgb => WHITE,
    overDiffuse: (): Rgb => WHITE,
  };
  if (weight === 0) return none;
  const alpha = alphaOf(roughness);
  const albedo = dielectricAlbedo(f0OfIor(ior), roughness);
  const towards = (cosine: number) => weight * albedo.towards(cosine);
  return {
    tint,
    towards,
    glossy(pair: Pair): Rgb {
      const once = facets(pair, alpha) * dielectricFresnel(pair.atHalf, ior);
      const f = weight * (once + manyShape(pair, roughness) * albedo.many);
      return [f, f, f];
    },
    /** What is mirrored goes in and out at much the same angle. */
    overGlossy: ({ cosineIn, cosineOut }: Pair): Rgb =>
      scaled(tint, Math.sqrt((1 - towards(cosineIn)) * (1 - towards(cosineOut)))),
    overDiffuse: ({ cosineIn, cosineOut }: Pair): Rgb =>
      scaled(tint, ((1 - towards(cosineIn)) * (1 - towards(cosineOut))) / (1 - weight * albedo.average)),
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
    over: (cosineIn: number, cosineOut: number): number =>
      strongest === 0
        ? 1
        : 1 - strongest * Math.max(fuzzAlbedo(cosineIn, fuzzRoughness), fuzzAlbedo(cosineOut, fuzzRoughness)),
  };
}
