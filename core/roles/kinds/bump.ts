import type { RoleKind } from "#core/roles/kind";

/** A height without a unit. */
export const BUMP: RoleKind = {
  name: "bump",
  holds: "grey",
  words: {
    certain: "bump|bump map|bumpmap|bumps|rilievo|relieve",
    usual: "bmp|bmap|bum|bmpmap",
    weak: "b|relief",
    glued: "bump",
  },
};
