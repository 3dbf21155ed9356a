import type { RoleKind } from "#core/roles/kind";

/** A panorama that lights a view. */
export const ENVIRONMENT: RoleKind = {
  name: "environment",
  holds: "data",
};
