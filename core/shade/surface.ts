import { BLACK, WHITE, type Rgb } from "#core/shade/rgb";

/** What a surface is at one point, in OpenPBR's terms (1.1), as far as our maps and values go. */
export interface Surface {
  baseColor: Rgb;
  metalness: number;
  /** Perceptual: microfacet α is its square. */
  roughness: number;
  /** Scales the reflectance of a dielectric at normal incidence. */
  specularWeight: number;
  /** Tints what a dielectric reflects, and a metal towards its edge. */
  specularColor: Rgb;
  ior: number;
  coatWeight: number;
  coatColor: Rgb;
  coatRoughness: number;
  coatIor: number;
  fuzzWeight: number;
  fuzzColor: Rgb;
  fuzzRoughness: number;
  subsurfaceWeight: number;
  subsurfaceColor: Rgb;
  /** Of light that is neither reflected nor absorbed, how much goes straight through: glass. */
  transmissionWeight: number;
  transmissionColor: Rgb;
  /** After so many millimetres of it light has the colour of the transmission; 0: at any depth. A thin sheet has none. */
  transmissionDepthMm: number;
  /** Of light that is scattered by a thin sheet, how much comes out behind it: a leaf, a curtain. */
  translucencyWeight: number;
  translucencyColor: Rgb;
  thinWalled: boolean;
  /** Luminance in cd/m², by colour. */
  emission: Rgb;
  /** Covers so much of what is behind. */
  opacity: number;
}

/** Mid-grey, matt, nothing else: what a value that nobody set amounts to. */
export const PLAIN_SURFACE: Surface = {
  baseColor: [0.18, 0.18, 0.18],
  metalness: 0,
  roughness: 0.5,
  specularWeight: 1,
  specularColor: WHITE,
  ior: 1.5,
  coatWeight: 0,
  coatColor: WHITE,
  coatRoughness: 0,
  coatIor: 1.5,
  fuzzWeight: 0,
  fuzzColor: WHITE,
  fuzzRoughness: 0.5,
  subsurfaceWeight: 0,
  subsurfaceColor: WHITE,
  transmissionWeight: 0,
  transmissionColor: WHITE,
  transmissionDepthMm: 0,
  translucencyWeight: 0,
  translucencyColor: WHITE,
  thinWalled: false,
  emission: BLACK,
  opacity: 1,
};
