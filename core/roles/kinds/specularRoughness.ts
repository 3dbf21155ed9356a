import type { RoleKind } from "#core/roles/kind";

export const SPECULAR_ROUGHNESS: RoleKind = {
  name: "roughness",
  holds: "grey",
  words: {
    certain:
      "roughness|specular roughness|specularroughness|roughness map|rauheit|rauigkeit|rauhigkeit|rauhheit|rugosite|rugosidad|rugosita|ruvidezza|ruvidita|aspereza|rugueux|ruwheid",
    usual: "rough|rgh|rou|rghns|roughnes|rugosidade|rugo|rauh|ruvido",
    weak: "r|rau|rug",
    glued: "rough",
  },
  inputs: { materialX: ["specular_roughness", "roughness"], usd: ["roughness"] },
};
