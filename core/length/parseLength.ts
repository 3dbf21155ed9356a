/** Units in which people of this trade write lengths. */
export type LengthUnit = "mm" | "cm" | "m" | "in" | "ft";

export const MM_PER_UNIT: Record<LengthUnit, number> = { mm: 1, cm: 10, m: 1000, in: 25.4, ft: 304.8 };

/** A length that could not be read; the message says what was typed and what would do. */
export class LengthError extends Error {
  constructor(
    readonly typed: string,
    reason: string,
  ) {
    super(`“${typed}” ${reason}. Write a length such as 215, 21.5 cm, 0.9 m, 8 1/2" or 5' 3 1/2".`);
    this.name = "LengthError";
  }
}

const UNIT_WORDS: Record<string, LengthUnit> = {
  mm: "mm",
  cm: "cm",
  m: "m",
  in: "in",
  inch: "in",
  inches: "in",
  '"': "in",
  "″": "in",
  "”": "in",
  ft: "ft",
  foot: "ft",
  feet: "ft",
  "'": "ft",
  "′": "ft",
  "’": "ft",
};

const NUMBER = String.raw`(\d+(?:[.,]\d+)?|[.,]\d+)`;
const FRACTION = String.raw`(?:(\d+)\s*/\s*(\d+))`;
const UNIT = String.raw`(mm|cm|m|inches|inch|in|ft|foot|feet|"|″|”|'|′|’)`;
/** A whole or decimal number, a fraction, or both, and then perhaps a unit. */
const PART = new RegExp(String.raw`^(?:${FRACTION}|${NUMBER}(?:\s+${FRACTION})?)\s*${UNIT}?\s*`, "i");

export interface ParseLengthOptions {
  /** The unit of a bare number: the studio's. Default "mm". */
  unit?: LengthUnit;
  /** Whether 0 is a length, as it is for a joint. Default false. */
  allowZero?: boolean;
}

/**
 * Reads a length as people write it and gives millimetres.
 * Feet and inches may be joined (`5' 3 1/2"`); a decimal comma is read as a point.
 * @throws {LengthError} for anything else, for a negative length, and for 0 unless it is allowed.
 */
export function parseLength(typed: string, options: ParseLengthOptions = {}): number {
  const { unit = "mm", allowZero = false } = options;
  let rest = typed.trim();
  if (rest === "") throw new LengthError(typed, "is empty");
  if (/^[-−–]/.test(rest)) throw new LengthError(typed, "is negative; a length is more than 0");

  const parts: { value: number; unit: LengthUnit | undefined }[] = [];
  while (rest !== "") {
    const match = PART.exec(rest);
    if (!match) throw new LengthError(typed, "is not a length");
    const [whole, loneTop, loneBottom, number, top, bottom, word] = match;
    if (Number(loneBottom ?? bottom ?? 1) === 0) throw new LengthError(typed, "divides by zero");
    const value = loneTop
      ? Number(loneTop) / Number(loneBottom)
      : Number(number.replace(",", ".")) + (top ? Number(top) / Number(bottom) : 0);
    parts.push({ value, unit: word ? UNIT_WORDS[word.toLowerCase()] : undefined });
    rest = rest.slice(whole.length);
  }

  const feetAndInches = parts.length === 2 && parts[0].unit === "ft" && (parts[1].unit ?? "in") === "in";
  if (parts.length > 1 && !feetAndInches) throw new LengthError(typed, "is not one length");
  const mm = feetAndInches
    ? parts[0].value * MM_PER_UNIT.ft + parts[1].value * MM_PER_UNIT.in
    : parts[0].value * MM_PER_UNIT[parts[0].unit ?? unit];

  if (!Number.isFinite(mm) || mm > 1e9) throw new LengthError(typed, "is too large");
  if (mm === 0 && !allowZero) throw new LengthError(typed, "is zero; a length is more than 0");
  return mm;
}
