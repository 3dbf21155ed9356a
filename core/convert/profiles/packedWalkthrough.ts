import { profileSchema } from "#core/convert/profile";

/** Stand-in: a real-time walkthrough that packs three data maps in one image and has one relief input. */
export const packedWalkthrough = profileSchema.parse({
  id: "packed-walkthrough-m",
  name: "packed real-time walkthrough, metres",
  description:
    "Occlusion, roughness and metalness packed in one image, 2048 px at most, PNG and JPEG, one relief input that takes bump or normal and must be told which.",
  delivers: "images",
  unit: "m",
  normalDirection: "+Y",
  maxPixels: 2048,
  outputs: [
    { kind: "map", slot: "colour", suffix: "color", role: "base_color", format: "jpeg", bitDepth: 8 },
    {
      kind: "packed",
      slot: "occlusion, roughness, metalness",
      suffix: "orm",
      format: "png",
      channels: ["ambient_occlusion", "specular_roughness", "base_metalness"],
    },
    { kind: "map", slot: "relief", suffix: "normal", role: "geometry_normal", format: "png", bitDepth: 8 },
    { kind: "map", slot: "opacity", suffix: "opacity", role: "geometry_opacity", format: "png", bitDepth: 8 },
    {
      kind: "map",
      slot: "emission",
      suffix: "emission",
      role: "emission_color",
      format: "jpeg",
      bitDepth: 8,
    },
  ],
  values: {
    thinWalled: "two-sided",
    opacityThreshold: "cut-out threshold",
    emissionNits: "emission, cd/m²",
    emissionColor: "emission colour",
    transmissionWeight: "glass amount",
    transmissionColor: "glass colour",
  },
  layers: { effects: ["rougher", "smoother", "tint"], slot: "wear", suffix: "wear", format: "png" },
  steps: [
    { when: "repeat", text: "Set the texture size to {width} × {height} {unit}." },
    {
      when: "normal",
      text: "Tell the relief input that it gets a normal map; as a bump map it would look wrong.",
    },
    { when: "opacity", text: "Switch cut-outs on for the material, so that the opacity map is used." },
    {
      when: "wear",
      text: "Lay each wear map over the material, in their order, with the size, the strength and the effect that settings.json has for it; light is where its marks are.",
    },
    {
      when: "plain",
      text: "Enter the colour and the roughness from settings.json; the material itself has no images.",
    },
    { when: "values", text: "Enter from settings.json: {values}." },
  ],
});
