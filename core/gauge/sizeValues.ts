import type { FieldValues } from "#core/finish/mergeFields";
import { methodWords } from "#core/gauge/methodWords";

interface Sized {
  repeat: { width: number; height: number } | null;
  sizeState: string;
  gauge: Record<string, unknown> | null;
}

/** A size as two people compare it: lengths in mm rounded to what can be typed, the way to it, and whether it is a guess. */
export function sizeValues({ repeat, sizeState, gauge }: Sized): FieldValues {
  if (!repeat) return { state: "unknown" };
  const round = (mm: number) => Number(mm.toFixed(3));
  return {
    width: round(repeat.width),
    height: round(repeat.height),
    way: methodWords(gauge),
    state: sizeState,
  };
}
