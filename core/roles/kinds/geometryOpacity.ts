import type { RoleKind } from "#core/roles/kind";

export const GEOMETRY_OPACITY: RoleKind = {
  name: "opacity",
  holds: "data",
  words: {
    certain:
      "opacity|geometry opacity|opacity map|opacity mask|opacite|opacidad|opacita|deckkraft|opazitat|opazitaet|opacidade|dekking|transparantie|ondoorzichtigheid",
    usual:
      "alpha|cutout|cut out|transparency|opac|alpha mask|alphamap|alpha map|transparenz|transparence|transparencia|trasparenza|opa|alphamask|cutoutmask|decoupe|maschera|mascara|masque|maske",
    weak: "mask|op|alp",
  },
  inputs: { materialX: ["opacity", "geometry_opacity", "alpha"], usd: ["opacity"] },
};
