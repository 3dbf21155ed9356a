import { MM_PER_UNIT, type LengthUnit } from "#core/length/parseLength";

/** A size that stands in a name: of one module, or of the whole picture, which words alone do not tell apart. */
export interface SaidSize {
  /** As it stands there. */
  text: string;
  /** mm; the height is left out where one length stands there. */
  width: number;
  height?: number;
  /** The third of three numbers, mm: how thick it is, or how high if the second is the depth. */
  third?: number;
  /** mm */
  joint?: number;
  /** No unit stands beside it, and the number does not say which: millimetres or centimetres. */
  isOpen?: boolean;
}

const NUMBER = String.raw`(\d{1,4}(?:[.,]\d{1,3})?)`;
const UNIT = String.raw`\s?(mm|cm|m|in)?`;
const END = String.raw`(?![a-z\d.,]*[a-z\d])`;
const PRODUCT = new RegExp(
  String.raw`(?<![\d.,])${NUMBER}${UNIT}\s?[x×]\s?${NUMBER}${UNIT}(?:\s?[x×]\s?${NUMBER}${UNIT})?${END}`,
  "gi",
);
const SINGLE = new RegExp(String.raw`(?<![\d.,x×]\s?)${NUMBER}\s?(mm|cm|m)${END}`, "gi");
const JOINT = new RegExp(
  String.raw`\bjoint[s]?\s?(?:of\s)?${NUMBER}\s?(?:mm)?${END}|${NUMBER}\s?mm\s?joints?\b`,
  "gi",
);

/** Numbers without a unit that are smaller count something, as "3 x 8". */
const LEAST_BARE = 20;
/** From here on a number without a unit is millimetres. */
export const SURELY_MM = 150;
/** Longer than this is no texture: a number of pixels, or a code. */
const MOST_MM = 50_000;

/**
 * The sizes that stand in a name, as "tile_150x75", "oak 137 mm", "plaster 2m" or "215 x 102.5 x 65, joint 10". Sizes in
 * pixels and bare counts are left out.
 */
export function sizesInWords(words: string): SaidSize[] {
  let rest = words.replaceAll("_", " ");
  const take = (pattern: RegExp, each: (match: RegExpMatchArray) => void) => {
    for (const match of rest.matchAll(pattern)) each(match);
    rest = rest.replaceAll(pattern, (all) => " ".repeat(all.length));
  };
  let joint: number | undefined;
  take(JOINT, ([, before, after]) => (joint ??= numberOf(before ?? after)));
  const said: SaidSize[] = [];
  take(PRODUCT, ([text, first, firstUnit, second, secondUnit, third, thirdUnit]) => {
    const unit = (thirdUnit ?? secondUnit ?? firstUnit)?.toLowerCase() as LengthUnit | undefined;
    const [width, height] = [numberOf(first), numberOf(second)];
    if (unit === undefined && (Math.max(width, height) < LEAST_BARE || isPixels(width, height))) return;
    const isOpen = unit === undefined && Math.max(width, height) < SURELY_MM;
    for (const by of unit ? [MM_PER_UNIT[unit]] : isOpen ? [10, 1] : [1]) {
      if (Math.max(width, height) * by > MOST_MM) continue;
      said.push({
        ...{ text: text.trim(), width: width * by, height: height * by },
        ...(third !== undefined && { third: numberOf(third) * by }),
        ...(joint !== undefined && { joint }),
        ...(isOpen && { isOpen }),
      });
    }
  });
  take(SINGLE, ([text, number, unit]) => {
    const width = numberOf(number) * MM_PER_UNIT[unit.toLowerCase() as LengthUnit];
    if (width > 0 && width <= MOST_MM)
      said.push({ text: text.trim(), width, ...(joint !== undefined && { joint }) });
  });
  return said.filter(({ width, height = width }) => width > 0 && height > 0);
}

const numberOf = (text: string) => Number(text.replace(",", "."));

/** What pictures are wide and high in pixels, and surfaces are not. */
function isPixels(width: number, height: number): boolean {
  const isPower = (n: number) => n >= 128 && Number.isInteger(Math.log2(n));
  const isThousands = (n: number) => n >= 1000 && n % 1000 === 0;
  return (isPower(width) && isPower(height)) || (isThousands(width) && width === height);
}
