import { profileSchema } from "#core/convert/profile";

/** Stand-in: a viewer beside a drawing board, small and old, that thinks in inches, JPEG, transparency and bump. */
export const drawingBoard = profileSchema.parse({
  id: "drawing-board-in",
  name: "drawing-board viewer, inches",
  description:
    "Small JPEG images only, 1024 px at most, in one folder; how transparent in place of how opaque, height as bump without a unit, no metalness and no normals.",
  delivers: "images",
  unit: "in",
  normalDirection: "+Y",
  maxPixels: 1024,
  colorTag: "icc",
  names: { folder: "", file: "{material}-{suffix}" },
  outputs: [
    {
      kind: "map",
      slot: "picture",
      suffix: "picture",
      role: "base_color",
      format: "jpeg",
      bitDepth: 8,
      multiplyOcclusion: true,
    },
    { kind: "map", slot: "shine", suffix: "shine", role: "gloss", format: "jpeg", bitDepth: 8 },
    { kind: "map", slot: "bump", suffix: "bump", role: "bump", format: "jpeg", bitDepth: 8 },
    {
      kind: "map",
      slot: "transparency",
      suffix: "transparency",
      role: "geometry_opacity",
      format: "jpeg",
      bitDepth: 8,
      inverted: true,
    },
  ],
  values: { transmissionWeight: "see-through amount" },
  steps: [
    { when: "repeat", text: "Set the width and the height of the picture to {width} × {height} {unit}." },
    { when: "height", text: "Set the bump by eye: this viewer has no unit for it." },
    { when: "plain", text: "Enter the colour and the shine from the settings file; there are no images." },
    { when: "values", text: "Enter from the settings file: {values}." },
  ],
});
