import type { RoleKind } from "#core/roles/kind";

/** What comes through from behind. */
export const SUBSURFACE_COLOR: RoleKind = {
  name: "translucency",
  holds: "color",
  words: {
    certain:
      "translucency|translucent|translucence|subsurface color|transluzenz|translucidite|translucidez|traslucenza|traslucido|translucency map|lichtdurchlass",
    usual: "transl|trl|sss|subsurface|trans|tlc|scattering",
  },
  inputs: { materialX: ["subsurface_color"] },
};
