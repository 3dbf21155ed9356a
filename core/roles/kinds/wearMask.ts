import type { RoleKind } from "#core/roles/kind";

/** The marks of a wear layer. */
export const WEAR_MASK: RoleKind = {
  name: "wear marks",
  holds: "data",
};
