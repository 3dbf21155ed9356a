import { LengthError, parseLength, type LengthUnit } from "#core/length/parseLength";

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
