import type { RoleKind } from "#core/roles/kind";

/** 1 − roughness, as some sources deliver it. */
export const GLOSS: RoleKind = {
  name: "gloss",
  holds: "grey",
  words: {
    certain:
      "gloss|glossiness|smoothness|gls|glossy|gloss map|glossmap|glanz|glanzgrad|brillance|brillo|lucidita|lucentezza|brillantezza|glaette|glatte|lissage|brilho|glans|glansgraad",
    usual: "glo|glossi|smth|smoothn",
    weak: "smooth|brillant|lucido",
    glued: "gloss",
  },
};
