import type { FileValues } from "#core/formats/fittingValues";
import type { Role } from "#core/roles/roles";

/** A surface of MaterialX that can be written and read: which inputs mean which values and maps. */
export interface MaterialXSurface {
  /** Values by the inputs that hold them; lengths are metres. */
  values: Record<string, keyof FileValues>;
  /** cd/m² that an emission of 1 is. */
  nits: number;
}

/** Those whose material files are written. */
export interface WrittenSurface extends MaterialXSurface {
  /** Inputs that take an image, with their types. */
  images: Partial<Record<Role, [input: string, type: "color3" | "float"]>>;
  normal: string;
  /** What an input is by itself where a finish says nothing and the surface means something else by that, and the amount that it goes with. */
  otherwise: readonly (readonly [input: string, value: number, amount?: keyof FileValues])[];
}

/** OpenPBR 1.1. */
export const OPEN_PBR: WrittenSurface = {
  values: {
    base_color: "color",
    base_metalness: "metalness",
    specular_weight: "specularWeight",
    specular_color: "specularColor",
    specular_roughness: "roughness",
    specular_ior: "ior",
    coat_weight: "coatWeight",
    coat_roughness: "coatRoughness",
    coat_ior: "coatIor",
    coat_color: "coatColor",
    fuzz_weight: "fuzzWeight",
    fuzz_color: "fuzzColor",
    subsurface_weight: "subsurfaceWeight",
    subsurface_color: "subsurfaceColor",
    transmission_weight: "transmissionWeight",
    transmission_color: "transmissionColor",
    transmission_depth: "transmissionDepthMm",
    emission_luminance: "emissionNits",
    emission_color: "emissionColor",
    geometry_thin_walled: "thinWalled",
  },
  nits: 1,
  images: {
    base_color: ["base_color", "color3"],
    base_metalness: ["base_metalness", "float"],
    specular_roughness: ["specular_roughness", "float"],
    specular_weight: ["specular_weight", "float"],
    specular_color: ["specular_color", "color3"],
    coat_weight: ["coat_weight", "float"],
    fuzz_weight: ["fuzz_weight", "float"],
    subsurface_color: ["subsurface_color", "color3"],
    transmission_weight: ["transmission_weight", "float"],
    emission_color: ["emission_color", "color3"],
    geometry_opacity: ["geometry_opacity", "float"],
  },
  normal: "geometry_normal",
  otherwise: [],
};

/** The standard surface of MaterialX's own library. It has no unit of light: an emission of 1 is taken for 100 cd/m². */
const STANDARD: WrittenSurface = {
  values: {
    base_color: "color",
    metalness: "metalness",
    specular: "specularWeight",
    specular_color: "specularColor",
    specular_roughness: "roughness",
    specular_IOR: "ior",
    coat: "coatWeight",
    coat_roughness: "coatRoughness",
    coat_IOR: "coatIor",
    coat_color: "coatColor",
    sheen: "fuzzWeight",
    sheen_color: "fuzzColor",
    subsurface: "subsurfaceWeight",
    subsurface_color: "subsurfaceColor",
    transmission: "transmissionWeight",
    transmission_color: "transmissionColor",
    transmission_depth: "transmissionDepthMm",
    emission: "emissionNits",
    emission_color: "emissionColor",
    thin_walled: "thinWalled",
  },
  nits: 100,
  images: {
    base_color: ["base_color", "color3"],
    base_metalness: ["metalness", "float"],
    specular_roughness: ["specular_roughness", "float"],
    specular_weight: ["specular", "float"],
    specular_color: ["specular_color", "color3"],
    coat_weight: ["coat", "float"],
    fuzz_weight: ["sheen", "float"],
    subsurface_color: ["subsurface_color", "color3"],
    transmission_weight: ["transmission", "float"],
    emission_color: ["emission_color", "color3"],
    geometry_opacity: ["opacity", "color3"],
  },
  normal: "normal",
  // Where OpenPBR means 1, 0, 1.6 and 0.5.
  otherwise: [
    ["base", 1],
    ["coat_roughness", 0, "coatWeight"],
    ["coat_IOR", 1.6, "coatWeight"],
    ["sheen_roughness", 0.5, "fuzzWeight"],
  ],
};

/** That of glTF's own material. */
const GLTF_PBR: MaterialXSurface = {
  values: {
    base_color: "color",
    metallic: "metalness",
    roughness: "roughness",
    ior: "ior",
    specular: "specularWeight",
    specular_color: "specularColor",
    clearcoat: "coatWeight",
    clearcoat_roughness: "coatRoughness",
    transmission: "transmissionWeight",
    attenuation_color: "transmissionColor",
    attenuation_distance: "transmissionDepthMm",
    emissive: "emissionColor",
    emissive_strength: "emissionNits",
    alpha_cutoff: "opacityThreshold",
  },
  nits: 1,
};

/** By the names of their nodes. */
export const MATERIALX_SURFACES = {
  open_pbr_surface: OPEN_PBR,
  standard_surface: STANDARD,
  gltf_pbr: GLTF_PBR,
} as const satisfies Record<string, MaterialXSurface>;

export type MaterialXSurfaceName = keyof typeof MATERIALX_SURFACES;
