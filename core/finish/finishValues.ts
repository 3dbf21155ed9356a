import type { Finish, FinishChange } from "#core/finish/finish";
import type { FieldValues } from "#core/finish/mergeFields";
import type { NormalDirection } from "#core/roles/roles";

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

/** What is to be changed of a material; what is not given stays. */
export interface FinishFields {
  name?: string;
  finish?: FinishChange;
  normalDirection?: NormalDirection;
}

interface Shown {
  name: string;
  finish: Finish;
  maps: { role: string; normalDirection?: NormalDirection | null }[];
}

/** A material's fields as two people compare them. */
export function finishValues({ name, finish, maps }: Shown): FieldValues {
  const direction = maps.find(({ role }) => role === "geometry_normal")?.normalDirection;
  return {
    name,
    ...finish,
    ...(direction && { normalDirection: direction }),
  };
}

/** What a change makes of the fields that were there. */
export function changedValues(
  base: FieldValues,
  { name, finish = {}, normalDirection }: FinishFields,
): FieldValues {
  const values = Object.fromEntries(
    Object.entries(finish).map(([field, value]) => [field, value ?? undefined]),
  );
  return {
    ...base,
    ...(name !== undefined && { name }),
    ...values,
    ...(normalDirection && { normalDirection }),
  };
}
