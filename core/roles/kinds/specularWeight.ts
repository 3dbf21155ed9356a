import type { RoleKind } from "#core/roles/kind";

export const SPECULAR_WEIGHT: RoleKind = {
  name: "specular",
  holds: "data",
  words: {
    certain:
      "specular|specular level|specularlevel|specular weight|specular map|specularmap|spekular|speculaire|especular|speculare|specularweight",
    usual:
      "spec|spc|reflection|refl|specularity|reflexion|reflect|reflectivity|ref l|riflessione|spiegelung|f0|spe",
  },
  inputs: { materialX: ["specular", "specular_weight"] },
};
