import type { RoleKind } from "#core/roles/kind";

export const EMISSION_COLOR: RoleKind = {
  name: "emission",
  holds: "color",
  words: {
    certain:
      "emission|emissive|emission color|emissive color|emissivecolor|emissioncolor|emissiv|emision|emissione|emissif|selbstleuchten|leuchten|leucht|emissive map|emisivo|emisividad|emissao|emissivo|emissie",
    usual:
      "emit|emis|emissiveness|glow|self illumination|selfillum|illum|emm|ems|emiss|glowmap|light map glow|luminance|em",
  },
  inputs: { materialX: ["emission_color", "emissive"], usd: ["emissiveColor"] },
};
