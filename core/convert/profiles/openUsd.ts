import { profileSchema } from "#core/convert/profile";

/** The open format: a layer with a preview surface beside its images. */
export const openUsd = profileSchema.parse({
  id: "openusd",
  name: "OpenUSD preview surface",
  description:
    "An OpenUSD layer with a preview surface, the same as a MaterialX surface, and a flat sample, beside its images; one unit of the coordinates is one metre.",
  delivers: "usda",
  unit: "m",
  normalDirection: "+Y",
  maxPixels: null,
  outputs: [
    { kind: "map", slot: "diffuseColor", suffix: "color", role: "base_color", format: "png", bitDepth: 8 },
    {
      kind: "map",
      slot: "roughness",
      suffix: "roughness",
      role: "specular_roughness",
      format: "png",
      bitDepth: 8,
    },
    {
      kind: "map",
      slot: "metallic",
      suffix: "metalness",
      role: "base_metalness",
      format: "png",
      bitDepth: 8,
    },
    { kind: "map", slot: "normal", suffix: "normal", role: "geometry_normal", format: "png", bitDepth: 8 },
    { kind: "map", slot: "displacement", suffix: "height", role: "height", format: "png", bitDepth: 16 },
    {
      kind: "map",
      slot: "occlusion",
      suffix: "occlusion",
      role: "ambient_occlusion",
      format: "png",
      bitDepth: 8,
    },
    { kind: "map", slot: "opacity", suffix: "opacity", role: "geometry_opacity", format: "png", bitDepth: 8 },
    {
      kind: "map",
      slot: "emissiveColor",
      suffix: "emission",
      role: "emission_color",
      format: "png",
      bitDepth: 8,
    },
    { kind: "map", slot: "clearcoat", suffix: "coat", role: "coat_weight", format: "png", bitDepth: 8 },
  ],
  values: {
    ior: "ior",
    coatWeight: "clearcoat amount",
    coatRoughness: "clearcoatRoughness",
    emissionNits: "emission, cd/m²",
    emissionColor: "emissiveColor value",
    opacityThreshold: "opacityThreshold",
    heightAmplitudeMm: "displacement scale",
    heightMiddle: "displacement middle",
  },
  steps: [
    {
      when: "repeat",
      text: "Give the geometry that gets this material texture coordinates (st) in metres; the scale of {width} × {height} {unit} is inside.",
    },
  ],
});
