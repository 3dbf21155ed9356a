import type { Role } from "#core/roles/roles";

/** Roughness and relief of some kind are there. */
export function isComplete(maps: { role: Role }[]): boolean {
  const has = (...roles: Role[]) => maps.some(({ role }) => roles.includes(role));
  return has("specular_roughness", "gloss") && has("geometry_normal", "height", "bump");
}
