import { LengthError, MM_PER_UNIT, parseLength, type LengthUnit } from "#core/length/parseLength";

/** A length while it is typed: read, or what is wrong with it; neither while nothing stands there. */
export function typedLength(text: string, unit: LengthUnit): { mm?: number; trouble?: string } {
  if (text.trim() === "") return {};
  try {
    return { mm: parseLength(text, { unit }) };
  } catch (error) {
    if (error instanceof LengthError) return { trouble: error.message };
    throw error;
  }
}

/** A length as it would be typed in the person's unit. Three decimals may be read as thousands, and so have a fourth. */
export function asTyped(mm: number, unit: LengthUnit): string {
  const text = String(Number((mm / MM_PER_UNIT[unit]).toFixed(4)));
  return /\.\d{3}$/.test(text) ? `${text}0` : text;
}
