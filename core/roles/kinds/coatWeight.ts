import type { RoleKind } from "#core/roles/kind";

export const COAT_WEIGHT: RoleKind = {
  name: "coat",
  holds: "grey",
  words: {
    certain: "clear coat|clearcoat|coat weight|coatweight|klarlack|vernis|barniz",
    usual: "coat|cc|lacquer",
  },
  inputs: { materialX: ["coat", "coat_weight", "clearcoat"], usd: ["clearcoat"] },
};
