import type { RoleKind } from "#core/roles/kind";

/** A picture to compare with. */
export const REFERENCE: RoleKind = {
  name: "reference",
  holds: "color",
  words: {
    usual:
      "preview|reference|thumbnail|thumb|render|sphere|vorschau|apercu|anteprima|rendering|prev|vista previa|muestra|previa|referenz|referenzbild|sample picture|productshot|icon",
  },
};
