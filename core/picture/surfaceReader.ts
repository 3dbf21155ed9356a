import { adjusterOf, colorAdjustment } from "#core/finish/colorAdjustment";
import type { Laid } from "#core/finish/marks";
import { EMITS_NITS, type Finish } from "#core/finish/finish";
import { adjustedRoughness, roughnessAdjustment } from "#core/finish/roughnessAdjustment";
import { wornReader } from "#core/picture/wornReader";
import { sample, type Texture } from "#core/raster/texture";
import { hexToLinear } from "#core/raster/srgb";
import type { Role } from "#core/roles/roles";
import { scaled, times, WHITE, type Rgb } from "#core/shade/rgb";
import { PLAIN_SURFACE, type Surface } from "#core/shade/surface";
import { unit, type Vector } from "#core/shade/vector";

/** The maps of a material as textures: gloss is roughness already, and normals point up with green. */
export type Textures = Partial<Record<Role, Texture>>;

/** A material to be drawn. */
export interface DrawnMaterial {
  textures: Textures;
  finish: Finish;
  /** Millimetres over which the textures repeat. */
  repeat: { width: number; height: number };
  /** From the lowest to the highest value of the height. */
  heightMm: number;
  /** Laid over it, the first at the bottom; none that changes nothing. */
  wear?: readonly Laid[];
}

/** What a material is at a place of it. */
export interface PlacedSurface {
  surface: Surface;
  /** x to the right, y up, z out of the surface. */
  normal: Vector;
  /** How much light from all around gets there. */
  openness: number;
}

export interface SurfaceReader {
  /** @param u, v in repeats from the top left corner */
  at(u: number, v: number): PlacedSurface;
  /** Above the surface, in millimetres. */
  heightAt(u: number, v: number): number;
  /** The highest that it gets, and whether it has any relief to be traced. */
  topMm: number;
  hasRelief: boolean;
}

/** No colour was given and no map has one: mid-grey of what architects draw with. */
export const NO_COLOR: Rgb = [0.32, 0.32, 0.32];

const linear = (hex: string | undefined): Rgb => (hex === undefined ? WHITE : hexToLinear(hex));

/** Reads a material under its finish, by the same adjustments that a delivery makes. */
export function surfaceReader({
  textures,
  finish,
  repeat,
  heightMm,
  wear = [],
}: DrawnMaterial): SurfaceReader {
  const worn = wornReader(wear, repeat);
  const isWorn = wear.length > 0;
  const adjustment = colorAdjustment(finish);
  const adjust: (color: Rgb) => Rgb = adjustment ? adjusterOf(adjustment) : (color) => color;
  const rough = roughnessAdjustment(finish);
  const [lowest, highest] = finish.heightRange ?? [0, 1];
  const height = textures.height ?? textures.bump;
  const bareHeightAt = (u: number, v: number) =>
    height ? (Math.min(highest, Math.max(lowest, sample(height, u, v))) - finish.heightMiddle) * heightMm : 0;
  const heightAt = worn.hasRelief
    ? (u: number, v: number) => bareHeightAt(u, v) + worn.heightAt(u, v)
    : bareHeightAt;
  const constant = constantsOf(finish);
  const plain = adjust(finish.color === undefined ? NO_COLOR : hexToLinear(finish.color));

  const grey = (role: Role, u: number, v: number) => {
    const texture = textures[role];
    return texture && sample(texture, u, v);
  };
  const color = (role: Role, u: number, v: number): Rgb | undefined => {
    const texture = textures[role];
    return texture && [sample(texture, u, v, 0), sample(texture, u, v, 1), sample(texture, u, v, 2)];
  };
  function bareNormalAt(u: number, v: number): Vector {
    const mapped = color("geometry_normal", u, v);
    if (mapped) {
      const strength = finish.normalStrength;
      return unit([
        (mapped[0] * 2 - 1) * strength,
        (mapped[1] * 2 - 1) * strength,
        Math.max(1e-3, mapped[2] * 2 - 1),
      ]);
    }
    if (!height || heightMm === 0) return [0, 0, 1];
    const [du, dv] = [1 / height.width, 1 / height.height];
    const slopeX = (bareHeightAt(u + du, v) - bareHeightAt(u - du, v)) / (2 * du * repeat.width);
    const slopeY = (bareHeightAt(u, v - dv) - bareHeightAt(u, v + dv)) / (2 * dv * repeat.height);
    return unit([-slopeX, -slopeY, 1]);
  }
  const normalAt = worn.hasRelief
    ? (u: number, v: number) => worn.tilted(bareNormalAt(u, v), u, v)
    : bareNormalAt;
  const { occlusionStrength, occlusionGamma } = finish;

  return {
    at(u, v) {
      const base = color("base_color", u, v);
      const occlusion = grey("ambient_occlusion", u, v);
      const opacity = grey("geometry_opacity", u, v) ?? 1;
      const translucency = color("subsurface_color", u, v);
      const emission = color("emission_color", u, v);
      const bareColor = base ? adjust(base) : plain;
      const bareRoughness = adjustedRoughness(grey("specular_roughness", u, v) ?? finish.roughness, rough);
      const surface: Surface = {
        ...constant,
        baseColor: isWorn ? worn.color(bareColor, u, v) : bareColor,
        roughness: isWorn ? worn.roughness(bareRoughness, u, v) : bareRoughness,
        metalness: grey("base_metalness", u, v) ?? finish.metalness,
        specularWeight: constant.specularWeight * (grey("specular_weight", u, v) ?? 1),
        specularColor: times(constant.specularColor, color("specular_color", u, v) ?? WHITE),
        coatWeight: weightOf(finish.coatWeight, grey("coat_weight", u, v)),
        fuzzWeight: weightOf(finish.fuzzWeight, grey("fuzz_weight", u, v)),
        transmissionWeight: weightOf(finish.transmissionWeight, grey("transmission_weight", u, v)),
        translucencyColor: times(constant.translucencyColor, translucency ?? WHITE),
        translucencyWeight: finish.translucencyWeight ?? (translucency && finish.thinWalled ? 0.5 : 0),
        emission: emission
          ? scaled(times(linear(finish.emissionColor), emission), finish.emissionNits ?? EMITS_NITS)
          : constant.emission,
        opacity:
          finish.opacityMode === "cut-out" ? Number(opacity >= (finish.opacityThreshold ?? 0.5)) : opacity,
      };
      return {
        surface,
        normal: normalAt(u, v),
        openness:
          occlusion === undefined
            ? 1
            : 1 - occlusionStrength + occlusionStrength * occlusion ** occlusionGamma,
      };
    },
    heightAt,
    topMm: (height ? (highest - finish.heightMiddle) * heightMm : 0) + worn.topMm,
    hasRelief: (height !== undefined && heightMm > 0) || worn.hasRelief,
  };
}

const weightOf = (amount: number | undefined, map: number | undefined): number =>
  map === undefined ? (amount ?? 0) : map * (amount ?? 1);

/** What is the same all over. */
export function constantsOf(finish: Finish): Surface {
  return {
    ...PLAIN_SURFACE,
    ior: finish.ior,
    specularWeight: finish.specularWeight ?? 1,
    specularColor: linear(finish.specularColor),
    coatColor: linear(finish.coatColor),
    coatRoughness: finish.coatRoughness ?? 0,
    coatIor: finish.coatIor ?? 1.5,
    fuzzColor: linear(finish.fuzzColor),
    subsurfaceWeight: finish.subsurfaceWeight ?? 0,
    subsurfaceColor: linear(finish.subsurfaceColor),
    transmissionColor: linear(finish.transmissionColor),
    transmissionDepthMm: finish.transmissionDepthMm ?? 0,
    translucencyColor: linear(finish.translucencyColor),
    thinWalled: finish.thinWalled ?? false,
    emission: scaled(linear(finish.emissionColor), finish.emissionNits ?? 0),
  };
}
