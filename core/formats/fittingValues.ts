import { finishSchema, type Finish } from "#core/finish/finish";

/** Values of a finish as a file says them; of what it does not say, nothing. */
export type FileValues = Partial<Omit<Finish, "wear">>;

/** What of some values can be values of a finish: what is out of range, or no number at all, is left out. */
export function fittingValues(values: { [K in keyof FileValues]: unknown }): FileValues {
  return Object.fromEntries(
    Object.entries(values).filter(
      ([field, value]) => value !== undefined && finishSchema.safeParse({ [field]: value }).success,
    ),
  );
}

/** Between 0 and 1, where exporters leave a little more or less. */
export const unit = (value: number): number => Math.min(1, Math.max(0, value));
