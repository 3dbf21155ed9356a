import type { RoleKind } from "#core/roles/kind";

export const TRANSMISSION_WEIGHT: RoleKind = {
  name: "transmission",
  holds: "grey",
  words: {
    certain: "transmission|transmissive|transmission weight|transmissionweight",
  },
  inputs: { materialX: ["transmission", "transmission_weight"] },
};
