import { profileSchema } from "#core/convert/profile";

/** The open format: one GLB a material, one unit of UV being one metre through KHR_texture_transform. */
export const gltf = profileSchema.parse({
  id: "gltf-2",
  name: "glTF 2.0",
  description: "One GLB with a flat sample and the material; one unit of UV is one metre.",
  delivers: "glb",
  unit: "m",
  normalDirection: "+Y",
  maxPixels: 4096,
  outputs: [
    {
      kind: "map",
      slot: "baseColorTexture",
      suffix: "color",
      role: "base_color",
      format: "jpeg",
      bitDepth: 8,
      opacityInAlpha: true,
    },
    {
      kind: "packed",
      slot: "metallicRoughnessTexture",
      suffix: "orm",
      format: "png",
      channels: ["ambient_occlusion", "specular_roughness", "base_metalness"],
    },
    {
      kind: "map",
      slot: "normalTexture",
      suffix: "normal",
      role: "geometry_normal",
      format: "png",
      bitDepth: 8,
    },
    {
      kind: "map",
      slot: "emissiveTexture",
      suffix: "emission",
      role: "emission_color",
      format: "jpeg",
      bitDepth: 8,
    },
  ],
  steps: [
    {
      when: "repeat",
      text: "Give the geometry that gets this material texture coordinates in metres; the scale of {width} × {height} {unit} is inside.",
    },
  ],
});
