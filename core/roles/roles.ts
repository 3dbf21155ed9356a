import { BASE_COLOR } from "#core/roles/kinds/baseColor";
import { SPECULAR_ROUGHNESS } from "#core/roles/kinds/specularRoughness";
import { GLOSS } from "#core/roles/kinds/gloss";
import { BASE_METALNESS } from "#core/roles/kinds/baseMetalness";
import { FUZZ_WEIGHT } from "#core/roles/kinds/fuzzWeight";
import { GEOMETRY_NORMAL } from "#core/roles/kinds/geometryNormal";
import { HEIGHT } from "#core/roles/kinds/height";
import { BUMP } from "#core/roles/kinds/bump";
import { AMBIENT_OCCLUSION } from "#core/roles/kinds/ambientOcclusion";
import { GEOMETRY_OPACITY } from "#core/roles/kinds/geometryOpacity";
import { SUBSURFACE_COLOR } from "#core/roles/kinds/subsurfaceColor";
import { TRANSMISSION_WEIGHT } from "#core/roles/kinds/transmissionWeight";
import { EMISSION_COLOR } from "#core/roles/kinds/emissionColor";
import { SPECULAR_WEIGHT } from "#core/roles/kinds/specularWeight";
import { SPECULAR_COLOR } from "#core/roles/kinds/specularColor";
import { COAT_WEIGHT } from "#core/roles/kinds/coatWeight";
import { REFERENCE } from "#core/roles/kinds/reference";
import { WEAR_MASK } from "#core/roles/kinds/wearMask";
import { ENVIRONMENT } from "#core/roles/kinds/environment";
import type { RoleKind } from "#core/roles/kind";

/**
 * What a map says, by its name: OpenPBR's or MaterialX's, where they have one. The order is the one in which maps are listed.
 */
const ROLE_KINDS = {
  base_color: BASE_COLOR,
  specular_roughness: SPECULAR_ROUGHNESS,
  gloss: GLOSS,
  base_metalness: BASE_METALNESS,
  geometry_normal: GEOMETRY_NORMAL,
  height: HEIGHT,
  bump: BUMP,
  ambient_occlusion: AMBIENT_OCCLUSION,
  geometry_opacity: GEOMETRY_OPACITY,
  subsurface_color: SUBSURFACE_COLOR,
  transmission_weight: TRANSMISSION_WEIGHT,
  emission_color: EMISSION_COLOR,
  specular_weight: SPECULAR_WEIGHT,
  specular_color: SPECULAR_COLOR,
  coat_weight: COAT_WEIGHT,
  fuzz_weight: FUZZ_WEIGHT,
  reference: REFERENCE,
  wear_mask: WEAR_MASK,
  environment: ENVIRONMENT,
} satisfies Record<string, RoleKind>;

export type Role = keyof typeof ROLE_KINDS;

export const ROLES = Object.keys(ROLE_KINDS) as [Role, ...Role[]];

/** "+Y": green points up the image, the canonical direction; "-Y": down. */
export type NormalDirection = "+Y" | "-Y";

export const kindOfRole = (role: Role): RoleKind => ROLE_KINDS[role];

/** The words that people read for each role. */
export const ROLE_NAMES = Object.fromEntries(ROLES.map((role) => [role, ROLE_KINDS[role].name])) as Record<
  Role,
  string
>;

/** Whether the values are colours, encoded as sRGB; every other map is linear data. */
export function isColorRole(role: Role | "unknown"): boolean {
  return role !== "unknown" && kindOfRole(role).holds === "color";
}

/** Which role an input of a surface means, by the input's name in one kind of material file. */
export const rolesOfInputs = (format: "materialX" | "usd"): ReadonlyMap<string, Role> =>
  new Map(ROLES.flatMap((role) => (kindOfRole(role).inputs?.[format] ?? []).map((input) => [input, role])));

/** The role that a canonical name or a plain word (`roughness`, `ambient occlusion`) means, if any. */
export function roleFromWord(word: string): Role | undefined {
  const plain = word
    .trim()
    .toLowerCase()
    .replaceAll(/[\s_-]+/g, " ");
  return ROLES.find((role) => role.replaceAll("_", " ") === plain || ROLE_NAMES[role] === plain);
}
