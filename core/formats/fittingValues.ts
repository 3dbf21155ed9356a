import { finishSchema, type Finish } from "#core/finish/finish";
import type { Role } from "#core/roles/roles";

/** Values of a finish as a file says them; of what it does not say, nothing. */
export type FileValues = Partial<Omit<Finish, "wear">>;

/** What shows nothing without the amount before it. */
const DEPENDENTS = {
  coatWeight: ["coatRoughness", "coatIor", "coatColor"],
  fuzzWeight: ["fuzzColor"],
  subsurfaceWeight: ["subsurfaceColor"],
  translucencyWeight: ["translucencyColor"],
  transmissionWeight: ["transmissionColor", "transmissionDepthMm"],
  emissionNits: ["emissionColor"],
} as const satisfies { [K in keyof FileValues]: readonly (keyof FileValues)[] };

/** What changes nothing, and is written by exporters that write all that there is. */
const NEUTRAL: FileValues = { specularWeight: 1, specularColor: "#ffffff", thinWalled: false };

/**
 * What of some values can be values of a finish, and says something: what is out of range, or no number at all, is left out, and so is what
 * changes nothing.
 */
export function fittingValues(values: { [K in keyof FileValues]: unknown }): FileValues {
  const idle = new Set<string>(
    Object.entries(DEPENDENTS).flatMap(([amount, dependents]) =>
      values[amount as keyof FileValues] === 0 ? [amount, ...dependents] : [],
    ),
  );
  return Object.fromEntries(
    Object.entries(values).filter(
      ([field, value]) =>
        value !== undefined &&
        !idle.has(field) &&
        NEUTRAL[field as keyof FileValues] !== value &&
        finishSchema.safeParse({ [field]: value }).success,
    ),
  );
}

/** Values that stand for a map, where that is none. */
const INSTEAD: Partial<Record<Role, keyof FileValues>> = {
  base_color: "color",
  specular_roughness: "roughness",
  gloss: "roughness",
  base_metalness: "metalness",
  emission_color: "emissionColor",
};

/** What of some values is said by no map. */
export function withoutMapped(values: FileValues, maps: readonly { role: Role }[]): FileValues {
  const said = new Set<string | undefined>(maps.map(({ role }) => INSTEAD[role]));
  return Object.fromEntries(Object.entries(values).filter(([field]) => !said.has(field)));
}

/** Between 0 and 1, where exporters leave a little more or less. */
export const unit = (value: number): number => Math.min(1, Math.max(0, value));
