/** The fields of something that two people change; a value that is not given is absent. */
export type FieldValues = Record<string, string | number | undefined>;

/** One field that one of them, or both, changed. */
export interface MergedField {
  field: string;
  base: string | number | undefined;
  theirs: string | number | undefined;
  mine: string | number | undefined;
  /** Who changed it; both may have, to different values. */
  changedBy: "them" | "me" | "both";
}

/**
 * Compares what two people made of the same beginning, field by field. What both made the same is no difference.
 * @param base what both began with
 */
export function mergeFields(base: FieldValues, theirs: FieldValues, mine: FieldValues): MergedField[] {
  const fields = [...new Set([...Object.keys(theirs), ...Object.keys(mine)])];
  return fields.flatMap((field) => {
    const values = { base: base[field], theirs: theirs[field], mine: mine[field] };
    if (values.theirs === values.mine) return [];
    const [they, i] = [values.theirs !== values.base, values.mine !== values.base];
    return { field, ...values, changedBy: they && i ? "both" : they ? "them" : "me" };
  });
}

/** What both want, where they do not contradict each other; where they do, mine. */
export const suggestedSide = ({ changedBy }: MergedField): "theirs" | "mine" =>
  changedBy === "them" ? "theirs" : "mine";
