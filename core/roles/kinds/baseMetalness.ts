import type { RoleKind } from "#core/roles/kind";

export const BASE_METALNESS: RoleKind = {
  name: "metalness",
  holds: "grey",
  words: {
    certain:
      "metalness|metallic|metallicity|metalic|base metalness|metalness map|metallic map|metallisch|metallizitat|metallizitaet|metallique|metallicite|metalicidad|metallico|metallicita|metallness|metallicness|metallischkeit|metalicidade",
    usual: "met|mtl|metl|metalico|mtlc|metall|metalmap|mtlns",
    weak: "metal|metallo",
  },
  inputs: { materialX: ["metalness", "base_metalness", "metallic"], usd: ["metallic"] },
};
