import { profileSchema } from "#core/convert/profile";

/** The open format of building models: a style, a material layer and the product's facts on a sample slab, beside its images. */
export const ifc = profileSchema.parse({
  id: "ifc-4",
  name: "IFC 4",
  description:
    "A surface style with its textures, a material layer with its thickness and what is known of the product, on a sample slab, beside its images.",
  delivers: "ifc",
  unit: "m",
  normalDirection: "+Y",
  maxPixels: 4096,
  outputs: [
    {
      kind: "map",
      slot: "diffuse texture",
      suffix: "color",
      role: "base_color",
      format: "png",
      bitDepth: 8,
    },
    {
      kind: "packed",
      slot: "metallic roughness texture",
      suffix: "orm",
      format: "png",
      channels: ["ambient_occlusion", "specular_roughness", "base_metalness"],
    },
    {
      kind: "map",
      slot: "normal texture",
      suffix: "normal",
      role: "geometry_normal",
      format: "png",
      bitDepth: 8,
    },
    {
      kind: "map",
      slot: "opacity texture",
      suffix: "opacity",
      role: "geometry_opacity",
      format: "png",
      bitDepth: 8,
    },
    {
      kind: "map",
      slot: "emissive texture",
      suffix: "emission",
      role: "emission_color",
      format: "png",
      bitDepth: 8,
    },
  ],
  values: { ior: "refraction index" },
  steps: [
    {
      when: "repeat",
      text: "Give the surfaces that get this style texture coordinates in metres; the textures are scaled to {width} × {height} {unit}.",
    },
  ],
});
