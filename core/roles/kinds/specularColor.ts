import type { RoleKind } from "#core/roles/kind";

export const SPECULAR_COLOR: RoleKind = {
  name: "specular color",
  holds: "color",
  words: {
    certain: "specular color|specular colour|specularcolor|spec color|specularcolour|spec col|spekularfarbe",
  },
  inputs: { materialX: ["specular_color"], usd: ["specularColor"] },
};
