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

/** Digits with one kind of separator between thousands and another before decimals, or with one of either. */
const NUMBER = String.raw`(\d{1,3}(?: \d{3})+(?:[.,]\d+)?|\d[\d.,]*|[.,]\d+)`;
const FRACTION = String.raw`(?:(\d+)\s*/\s*(\d+))`;
const UNIT = String.raw`(mm|cm|m|inches|inch|in|ft|foot|feet|"|″|”|'|′|’)`;
/** A whole or decimal number, a fraction, or both, and then perhaps a unit. */
const PART = new RegExp(String.raw`^(?:${FRACTION}|${NUMBER}(?:\s+${FRACTION})?)\s*${UNIT}?\s*`, "i");

/** Fractions that are one character. */
const SINGLE: Record<string, string> = {
  "½": "1/2",
  "¼": "1/4",
  "¾": "3/4",
  "⅓": "1/3",
  "⅔": "2/3",
  "⅛": "1/8",
  "⅜": "3/8",
  "⅝": "5/8",
  "⅞": "7/8",
};

/** Nothing that is built or laid is longer. */
const MOST_MM = 1e6;
/** No piece and no repeat is so long: a number before three decimals that would be is no thousand. */
const MOST_THOUSANDS_MM = 20_000;
const INCHES_PER_FOOT = 12;

export interface ParseLengthOptions {
  /** The unit of a bare number: the studio's. Default "mm". */
  unit?: LengthUnit;
  /** Whether 0 is a length, as it is for a joint. Default false. */
  allowZero?: boolean;
}

/**
 * Reads a length as people write it and gives millimetres. Feet and inches may be joined (`5' 3 1/2"`, `5'-3 1/2"`), and metres
 * with centimetres or millimetres (`2 m 50 cm`). A decimal comma is read as a point, and thousands may be set apart by spaces,
 * or by the separator that is not the decimal one.
 * @throws {LengthError} for anything else, for a number that may mean two things (`1.200 mm`), for a negative length, and for 0
 * unless it is allowed.
 */
export function parseLength(typed: string, options: ParseLengthOptions = {}): number {
  const { unit = "mm", allowZero = false } = options;
  let rest = typed
    .trim()
    .replace(/[\u00a0\u2009\u202f]/g, " ")
    .replace(/['′’]{2}/g, '"')
    .replace(/[½¼¾⅓⅔⅛⅜⅝⅞]/g, (one) => ` ${SINGLE[one]}`)
    .trim();
  if (rest === "") throw new LengthError(typed, "is empty");
  if (/^[-−–]/.test(rest)) throw new LengthError(typed, "is negative; a length is more than 0");

  const parts: { value: number; unit: LengthUnit | undefined }[] = [];
  while (rest !== "") {
    const match = PART.exec(rest);
    if (!match) throw new LengthError(typed, "is not a length");
    const [whole, loneTop, loneBottom, number, top, bottom, word] = match;
    if (Number(loneBottom ?? bottom ?? 1) === 0) throw new LengthError(typed, "divides by zero");
    const own = word ? UNIT_WORDS[word.toLowerCase()] : undefined;
    const value = loneTop
      ? Number(loneTop) / Number(loneBottom)
      : readNumber(typed, number, own ?? unit) + (top ? Number(top) / Number(bottom) : 0);
    parts.push({ value, unit: own });
    rest = rest.slice(whole.length);
    // A dash joins inches to their feet.
    if (own === "ft") rest = rest.replace(/^[-–]\s*/, "");
  }
  const mm = joined(typed, parts, unit);
  if (!Number.isFinite(mm) || mm > MOST_MM) throw new LengthError(typed, "is longer than a kilometre");
  if (mm === 0 && !allowZero) throw new LengthError(typed, "is zero; a length is more than 0");
  return mm;
}

type Part = { value: number; unit: LengthUnit | undefined };

/** One length of its parts: feet with inches, or metric parts from the largest to the smallest. */
function joined(typed: string, parts: Part[], unit: LengthUnit): number {
  const [first, second] = parts;
  if (parts.length === 1) return first.value * MM_PER_UNIT[first.unit ?? unit];
  if (parts.length === 2 && first.unit === "ft" && (second.unit ?? "in") === "in") {
    if (second.value >= INCHES_PER_FOOT)
      throw new LengthError(typed, `has ${second.value} inches beside its feet, and a foot has 12`);
    return first.value * MM_PER_UNIT.ft + second.value * MM_PER_UNIT.in;
  }
  const metric = parts.every((part) => part.unit && ["m", "cm", "mm"].includes(part.unit));
  const descends = parts.every(
    (part, i) =>
      i === 0 ||
      (metric &&
        MM_PER_UNIT[part.unit!] < MM_PER_UNIT[parts[i - 1].unit!] &&
        part.value * MM_PER_UNIT[part.unit!] < MM_PER_UNIT[parts[i - 1].unit!] &&
        Number.isInteger(parts[i - 1].value)),
  );
  if (!metric || !descends) throw new LengthError(typed, "is not one length");
  return parts.reduce((sum, part) => sum + part.value * MM_PER_UNIT[part.unit!], 0);
}

/**
 * A number with its separators. With two kinds of them the last is the decimal one. One alone before three digits may be either:
 * "1.200 mm" is refused with both readings, where both are lengths of pieces, and not for inches with a point, which are
 * written so every day.
 */
function readNumber(typed: string, text: string, unit: LengthUnit): number {
  const plain = text.replaceAll(" ", "");
  const separators = plain.replace(/\d/g, "");
  if (/^\d*[.,]?\d*$/.test(plain)) {
    const decimal = Number(plain.replace(",", "."));
    const grouped = /^[1-9]\d{0,2}([.,])\d{3}$/.exec(plain);
    const isMeant = text !== plain || (grouped?.[1] === "." && (unit === "in" || unit === "ft"));
    const thousands = Number(separators ? plain.replace(separators, "") : plain);
    if (grouped && !isMeant && thousands * MM_PER_UNIT[unit] <= MOST_THOUSANDS_MM)
      throw new LengthError(
        typed,
        `may be ${thousands} ${unit} or ${decimal} ${unit}; write it without the ${separators === "." ? "point" : "comma"}, or as ${decimal}`,
      );
    return decimal;
  }
  const last = separators.slice(-1);
  const other = last === "." ? "," : ".";
  const [whole, decimals = ""] = separators.includes(other) ? plain.split(last) : [plain, ""];
  const groups = whole.split(separators.includes(other) ? other : last);
  const isGrouped =
    groups.every((group, i) => (i === 0 ? /^\d{1,3}$/ : /^\d{3}$/).test(group)) &&
    plain.split(last).length - 1 <= (separators.includes(other) ? 1 : groups.length);
  if (!isGrouped) throw new LengthError(typed, "is not a number");
  return Number(`${groups.join("")}.${decimals || 0}`);
}
