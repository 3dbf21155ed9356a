/**
 * What a map says. Names follow OpenPBR and MaterialX where they have one; `gloss` is 1 − roughness as some
 * sources deliver it, `bump` a height without a unit, `reference` a picture to compare with, `wear_mask` the marks of a
 * wear layer, `environment` a panorama that lights a view.
 */
export const ROLES = [
  "base_color",
  "specular_roughness",
  "gloss",
  "base_metalness",
  "geometry_normal",
  "height",
  "bump",
  "ambient_occlusion",
  "geometry_opacity",
  "subsurface_color",
  "transmission_weight",
  "emission_color",
  "specular_weight",
  "specular_color",
  "coat_weight",
  "reference",
  "wear_mask",
  "environment",
] as const;

export type Role = (typeof ROLES)[number];

/** "+Y": green points up the image, the canonical direction; "-Y": down. */
export type NormalDirection = "+Y" | "-Y";

/** The words that people read for each role. */
export const ROLE_NAMES: Record<Role, string> = {
  base_color: "base color",
  specular_roughness: "roughness",
  gloss: "gloss",
  base_metalness: "metalness",
  geometry_normal: "normal",
  height: "height",
  bump: "bump",
  ambient_occlusion: "ambient occlusion",
  geometry_opacity: "opacity",
  subsurface_color: "translucency",
  transmission_weight: "transmission",
  emission_color: "emission",
  specular_weight: "specular",
  specular_color: "specular color",
  coat_weight: "coat",
  reference: "reference",
  wear_mask: "wear marks",
  environment: "environment",
};

const COLOR_ROLES: ReadonlySet<Role> = new Set<Role>([
  "base_color",
  "subsurface_color",
  "emission_color",
  "specular_color",
  "reference",
]);

/** Whether the values are colours, encoded as sRGB; every other map is linear data. */
export function isColorRole(role: Role): boolean {
  return COLOR_ROLES.has(role);
}

/** The role that a canonical name or a plain word (`roughness`, `ambient occlusion`) means, if any. */
export function roleFromWord(word: string): Role | undefined {
  const plain = word
    .trim()
    .toLowerCase()
    .replaceAll(/[\s_-]+/g, " ");
  return ROLES.find((role) => role.replaceAll("_", " ") === plain || ROLE_NAMES[role] === plain);
}
