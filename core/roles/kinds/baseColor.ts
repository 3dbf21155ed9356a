import type { RoleKind } from "#core/roles/kind";

export const BASE_COLOR: RoleKind = {
  name: "base color",
  holds: "color",
  words: {
    certain:
      "base color|base colour|basecolor|basecolour|base col|basecol|albedo|diffuse|diffuse color|diffuse colour|albedo color|diffuse map|albedo map|grundfarbe|basisfarbe|diffus|couleur de base|couleur diffuse|diffuso|difuso|color base|colore base|colore diffuso|color difuso|albedo transparency|cor base|cor difusa|diffusfarbe|basiskleur|mapa color|mappa colore|carte diffuse|grundfarb",
    usual:
      "color|colour|col|diff|dif|diffusemap|alb|bc|color map|colour map|colormap|clr|farbe|farben|farbtextur|couleur|couleurs|colore|colori|colores|coul|farb|kleur|cor|difusa",
    weak: "d|c|base|tex|texture|textur|textura|a|color1",
    glued: "color|colour",
  },
  inputs: { materialX: ["base_color"], usd: ["diffuseColor"] },
};
