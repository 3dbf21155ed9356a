import { profileSchema } from "#core/convert/profile";

/** The open format: a material library with a flat sample, beside its images. */
export const objMtl = profileSchema.parse({
  id: "obj-mtl",
  name: "OBJ with MTL",
  description:
    "A material library with the widespread lines for physically based shading, and a flat sample of one metre, beside its images.",
  delivers: "mtl",
  unit: "m",
  normalDirection: "+Y",
  maxPixels: null,
  outputs: [
    {
      kind: "map",
      slot: "map_Kd",
      suffix: "color",
      role: "base_color",
      format: "png",
      bitDepth: 8,
      multiplyOcclusion: true,
    },
    {
      kind: "map",
      slot: "map_Pr",
      suffix: "roughness",
      role: "specular_roughness",
      format: "png",
      bitDepth: 8,
    },
    { kind: "map", slot: "map_Pm", suffix: "metalness", role: "base_metalness", format: "png", bitDepth: 8 },
    { kind: "map", slot: "norm", suffix: "normal", role: "geometry_normal", format: "png", bitDepth: 8 },
    { kind: "map", slot: "disp", suffix: "height", role: "height", format: "png", bitDepth: 8 },
    { kind: "map", slot: "map_d", suffix: "opacity", role: "geometry_opacity", format: "png", bitDepth: 8 },
    { kind: "map", slot: "map_Ke", suffix: "emission", role: "emission_color", format: "png", bitDepth: 8 },
  ],
  values: {
    ior: "Ni",
    coatWeight: "Pc",
    coatRoughness: "Pcr",
    fuzzWeight: "Ps",
    emissionNits: "Ke, cd/m²",
    emissionColor: "Ke colour",
  },
  steps: [
    {
      when: "repeat",
      text: "Give the geometry that gets this material texture coordinates in metres; each map is scaled (-s) to {width} × {height} {unit}.",
    },
    {
      when: "height",
      text: "Set how deep the height (disp) goes: MTL has no unit for it.",
    },
  ],
});
