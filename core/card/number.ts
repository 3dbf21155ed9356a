import { NUMBER_CELLS } from "#core/card/layout";

/** Of which the last bits are a check. */
const CHECK_BITS = 4;
export const MOST_CARD_NUMBER = 2 ** (NUMBER_CELLS.bits - CHECK_BITS) - 1;

/** Not zero for zero, so that neither a plain light nor a plain dark bar is a number. */
const checkOf = (number: number) => (((number * 2654435761) >>> 13) ^ 5) & 15;

/** @throws {RangeError} for what is no number of a card */
export function bitsOfNumber(number: number): boolean[] {
  if (!Number.isInteger(number) || number < 0 || number > MOST_CARD_NUMBER)
    throw new RangeError(`${number} is no number of a card.`);
  const code = number * 2 ** CHECK_BITS + checkOf(number);
  return Array.from(
    { length: NUMBER_CELLS.bits },
    (_, at) => ((code >> (NUMBER_CELLS.bits - 1 - at)) & 1) === 1,
  );
}

/** @returns the number, or none where the check does not agree */
export function numberOfBits(bits: readonly boolean[]): number | undefined {
  const code = bits.reduce((sum, bit) => sum * 2 + Number(bit), 0);
  const number = Math.floor(code / 2 ** CHECK_BITS);
  return code % 2 ** CHECK_BITS === checkOf(number) ? number : undefined;
}
