import type { Finish, FinishChange } from "#core/finish/finish";
import type { FieldValues } from "#core/finish/mergeFields";
import type { NormalDirection } from "#core/maps/roles";

export const FINISH_NUMBERS = [
  "roughness",
  "metalness",
  "ior",
  "normalStrength",
  "lostRelief",
  "heightAmplitudeMm",
  "heightMiddle",
  "occlusionStrength",
  "occlusionGamma",
] as const;

/** What the form of the finish says. */
export interface FinishForm {
  name: string;
  finish: FinishChange;
  normalDirection?: NormalDirection;
}

interface Shown {
  name: string;
  finish: Finish;
  maps: { role: string; normalDirection?: NormalDirection | null }[];
}

/** A material's fields as the form has them. */
export function finishValues({ name, finish, maps }: Shown): FieldValues {
  const direction = maps.find(({ role }) => role === "geometry_normal")?.normalDirection;
  return {
    name,
    ...finish,
    ...(direction && { normalDirection: direction }),
  };
}

/** What a change makes of the fields that were there. */
export function changedValues(base: FieldValues, { name, finish, normalDirection }: FinishForm): FieldValues {
  const values = Object.fromEntries(
    Object.entries(finish).map(([field, value]) => [field, value ?? undefined]),
  );
  return { ...base, name, ...values, ...(normalDirection && { normalDirection }) };
}
