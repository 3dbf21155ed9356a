import type { RoleKind } from "#core/roles/kind";

/** How much of a surface is covered with fine fibres, as cloth and moss are. */
export const FUZZ_WEIGHT: RoleKind = {
  name: "fuzz",
  holds: "grey",
  words: {
    certain: "fuzz|fuzz weight|fuzzweight|sheen|sheen weight|sheenweight|sheen map|sheen intensity",
    usual: "fuzz mask|shn",
  },
  inputs: { materialX: ["fuzz_weight", "sheen"] },
};
