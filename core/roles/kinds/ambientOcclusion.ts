import type { RoleKind } from "#core/roles/kind";

export const AMBIENT_OCCLUSION: RoleKind = {
  name: "ambient occlusion",
  holds: "grey",
  words: {
    certain:
      "ambient occlusion|ambientocclusion|occlusion|ao|ambient occlusion map|ao map|aomap|occlusion ambiante|oclusion ambiental|oclusion|occlusione ambientale|occlusione|umgebungsverdeckung|verdeckung|umgebungsokklusion|okklusion|mixed ao|oclusao|oclusao ambiente|omgevingsocclusie|occlusie",
    usual: "amb occ|occ|ambient|ambocc|occl|aocc|cavity",
  },
  inputs: { materialX: ["occlusion"], usd: ["occlusion"] },
};
