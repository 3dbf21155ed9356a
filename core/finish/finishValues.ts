import type { Finish, FinishChange, FinishField } from "#core/finish/finish";
import { valueWords } from "#core/finish/valueFacts";
import type { FieldValues } from "#core/finish/mergeFields";
import type { NormalDirection } from "#core/roles/roles";

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
    ...flat(finish),
    ...(direction && { normalDirection: direction }),
  };
}

/** What a change makes of the fields that were there. */
export function changedValues(
  base: FieldValues,
  { name, finish = {}, normalDirection }: FinishFields,
): FieldValues {
  const values = flat(finish);
  return {
    ...base,
    ...(name !== undefined && { name }),
    ...values,
    ...(normalDirection && { normalDirection }),
  };
}

/** Each value as one word, as two people compare it and a form sends it: "0.2 to 0.9", "yes". */
function flat(finish: FinishChange): FieldValues {
  return Object.fromEntries(
    Object.entries(finish).map(([field, value]) => {
      if (value === null || value === undefined) return [field, undefined];
      if (field === "wear") return [field, JSON.stringify(value)];
      return [
        field,
        typeof value === "number" || typeof value === "string"
          ? value
          : valueWords(field as FinishField, value as Finish[FinishField]),
      ];
    }),
  );
}
