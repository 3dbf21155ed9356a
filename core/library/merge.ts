import type { SizeState } from "#core/finish/material";
import type { Part } from "#core/judge/likeness";
import type { Repeat } from "#core/length/repeat";
import type { Role } from "#core/roles/roles";

/** One of two materials that are one. */
export interface MergeSide {
  name: string;
  /** When it came into the library, in milliseconds. */
  since: number;
  maps: { role: Role; width: number; height: number; bitDepth: number }[];
  repeat: Repeat | null;
  sizeState: SizeState;
  /** Values of the finish that somebody set. */
  setValues: number;
  /** Facts that are filled in: supplier, product, code, page, licence, family, tags. */
  facts: number;
  /** Projects and collections that have it. */
  uses: number;
}

export const MERGE_FIELDS = ["name", "maps", "size", "finish", "facts"] as const;
export type MergeField = (typeof MERGE_FIELDS)[number];

/** From which of the two something is taken. */
export type Side = 0 | 1;
export type MergeChoice = { kept: Side } & Record<MergeField, Side>;

/** How the pictures of the two are of one surface: the second is the first turned by quarters, and which part of each the other shows. */
export interface MergeRelation {
  turns: number;
  parts: { first: Part; second: Part } | null;
}

type Sides = readonly [MergeSide, MergeSide];

const STATES: readonly SizeState[] = ["unknown", "assumed", "known"];
const baseOf = ({ maps }: MergeSide) => maps.find(({ role }) => role === "base_color");
const pixelsOf = (side: MergeSide) => {
  const base = baseOf(side);
  return base ? base.width * base.height : 0;
};
const bitsOf = ({ maps }: MergeSide) => maps.reduce((sum, { bitDepth }) => sum + bitDepth, 0);
/** "Oak (2)": what is called so came when the name was taken. */
const isNumbered = ({ name }: MergeSide) => /\(\d+\)\s*$/.test(name);

/** The side with more of the first measure that tells them apart; `or` where none does. */
function better(sides: Sides, or: Side, ...measures: ((side: MergeSide) => number)[]): Side {
  for (const measure of measures) {
    const [first, second] = sides.map(measure);
    if (first !== second) return first > second ? 0 : 1;
  }
  return or;
}

/**
 * What is better of each: the one stays that more people use, or that is older; its name, unless it is a numbered one; the maps with more
 * pixels; the size that is known; the finish and the facts of which more is set.
 */
export function proposeMerge(sides: Sides): MergeChoice {
  const kept = better(
    sides,
    0,
    ({ uses }) => uses,
    ({ since }) => -since,
  );
  const maps = better(sides, kept, pixelsOf, ({ maps }) => maps.length, bitsOf);
  return {
    kept,
    name: better(sides, kept, (side) => (isNumbered(side) ? 0 : 1)),
    maps,
    size: better(sides, maps, ({ sizeState }) => STATES.indexOf(sizeState)),
    finish: better(sides, kept, ({ setValues }) => setValues),
    facts: better(sides, kept, ({ facts }) => facts),
  };
}

/**
 * The size of one side's repeat as it is on the other side's pictures: where one shows a part of the other, or lies turned, it is not
 * the same. @returns millimetres
 */
export function repeatOnOther(repeat: Repeat, from: Side, { turns, parts }: MergeRelation): Repeat {
  const whole = { left: 0, top: 0, width: 1, height: 1 };
  const [own, other] = parts
    ? from === 0
      ? [parts.first, parts.second]
      : [parts.second, parts.first]
    : [whole, whole];
  const shared = { width: repeat.width * own.width, height: repeat.height * own.height };
  const turned = turns % 2 === 0 ? shared : { width: shared.height, height: shared.width };
  return { width: turned.width / other.width, height: turned.height / other.height };
}
