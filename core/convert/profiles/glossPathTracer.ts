import { profileSchema } from "#core/convert/profile";

/** Stand-in: an offline path tracer that thinks in gloss, −Y normals, raw data and centimetres. */
export const glossPathTracer = profileSchema.parse({
  id: "gloss-path-tracer-cm",
  name: "gloss path tracer, centimetres",
  description:
    "Gloss in place of roughness, normals with green down, data maps as raw files, no input for ambient occlusion: it is multiplied into the colour.",
  delivers: "images",
  unit: "cm",
  normalDirection: "-Y",
  maxPixels: null,
  outputs: [
    {
      kind: "map",
      slot: "diffuse colour",
      suffix: "color",
      role: "base_color",
      format: "png",
      bitDepth: 8,
      multiplyOcclusion: true,
    },
    { kind: "map", slot: "reflection gloss", suffix: "gloss", role: "gloss", format: "png", bitDepth: 8 },
    {
      kind: "map",
      slot: "metalness",
      suffix: "metalness",
      role: "base_metalness",
      format: "png",
      bitDepth: 8,
    },
    { kind: "map", slot: "normal", suffix: "normal", role: "geometry_normal", format: "tiff", bitDepth: 16 },
    { kind: "map", slot: "displacement", suffix: "height", role: "height", format: "tiff", bitDepth: 16 },
    { kind: "map", slot: "opacity", suffix: "opacity", role: "geometry_opacity", format: "png", bitDepth: 8 },
    {
      kind: "map",
      slot: "translucency",
      suffix: "translucency",
      role: "subsurface_color",
      format: "png",
      bitDepth: 8,
    },
    { kind: "map", slot: "emission", suffix: "emission", role: "emission_color", format: "png", bitDepth: 8 },
  ],
  relief: { inputs: ["normal", "height"], shared: false },
  steps: [
    { when: "repeat", text: "Set the size of every map to {width} × {height} {unit}." },
    { when: "images", text: "Load every map but the colour ones as raw data, without a gamma." },
    {
      when: "height",
      text: "Switch displacement on for the objects that get this material, amount {amplitude} {unit} around the middle.",
    },
    { when: "plain", text: "Enter the colour and the gloss from settings.json; there are no images." },
  ],
});
