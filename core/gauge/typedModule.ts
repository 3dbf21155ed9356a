import { LengthError, parseLength, type LengthUnit } from "#core/length/parseLength";

/** A module, or a whole picture, as somebody types it: one length or two, and perhaps a joint. In mm. */
export interface TypedModule {
  width: number;
  height?: number;
  joint?: number;
  /** The joint between courses, where another one is typed. */
  jointVertical?: number;
}

const TWO = /^(.+?)\s*(?:[x×]|\bby\b)\s*(.+)$/i;
const JOINT = /^(.*?)[\s,;]*\bjoints?\b\s*(?:of\s+)?(.+)$/i;

/**
 * Reads "215 x 65", "215 x 65 joint 10", "8 5/8 in by 2 1/4 in, joint 10 / 12", "145" or "2 m".
 * @param unit of a bare number
 * @returns undefined where it is none of these
 */
export function readTypedModule(typed: string, unit: LengthUnit): TypedModule | undefined {
  const [, before, gap] = JOINT.exec(typed.trim()) ?? [undefined, typed.trim(), undefined];
  const [, first, second] = TWO.exec(before) ?? [undefined, before, undefined];
  const [beside, between] = gap?.split(/\s+(?:and|\/)\s+/) ?? [];
  const lengthOf = (text: string, allowZero = false) => parseLength(text, { unit, allowZero });
  try {
    return {
      width: lengthOf(first),
      ...(second !== undefined && { height: lengthOf(second) }),
      ...(beside !== undefined && { joint: lengthOf(beside, true) }),
      ...(between !== undefined && { jointVertical: lengthOf(between, true) }),
    };
  } catch (error) {
    if (error instanceof LengthError) return undefined;
    throw error;
  }
}
