import type { RoleKind } from "#core/roles/kind";

/** How far the surface stands out, in a unit that the finish says. */
export const HEIGHT: RoleKind = {
  name: "height",
  holds: "grey",
  words: {
    certain:
      "height|displacement|height map|heightmap|displace|displacement map|dispmap|displacementmap|hohe|hoehe|hoehenkarte|hohenkarte|verschiebung|hauteur|deplacement|altura|desplazamiento|altezza|spostamento|elevation|hohen|hoehen|alturas|deslocamento|hoogte|verplaatsing|height displacement|displacement height",
    usual: "disp|dis|dsp|hgt|hght|depth|displ|hght|ht|hmap|dsplc|hauteurs|parallax|pom",
    weak: "h|hi",
    glued: "disp",
  },
  inputs: { usd: ["displacement"] },
};
