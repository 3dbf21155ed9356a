import type { ModuleCount } from "#core/gauge/findModules";
import { coordinatingOf, type Format, type FormatKind } from "#core/gauge/formats";
import type { Module } from "#core/gauge/layModule";
import {
  hasBothSides,
  layBest,
  WIDEST_BOARD,
  type SizeProposal,
  type SizeReason,
} from "#core/gauge/proposeSizes";
import { GaugeError, gaugeRepeat, type PixelSize } from "#core/gauge/repeat";
import { readTypedModule } from "#core/gauge/typedModule";
import type { LengthUnit } from "#core/length/parseLength";
import { formatLength, formatSize } from "#core/length/formatLength";
import { formatWords, moduleWords } from "../gauge/formatFields";

/** What a material on the sheet is taken for. */
export type SizeChoice = { words: string; reason?: SizeReason } & (
  | { module: Module; /** By nobody before. */ isTyped: boolean }
  | { whole: { width: number; height?: number } }
  | { proposal: SizeProposal }
);

export interface Sized extends Pick<SizeProposal, "method" | "repeat" | "stretchPercent"> {
  /** Nobody has to look. */
  isSure: boolean;
}

const REASONS: Record<SizeReason["by"], string> = {
  words: "as its name says",
  sibling: "as another of its line",
  line: "as others of its line",
  alike: "as others that look like it",
  supplier: "as others from its supplier",
  family: "as others of its family",
  format: "has its proportions",
};

/** What speaks for a choice; undefined for what was only chosen. */
export function reasonWords(choice: SizeChoice): string | undefined {
  const { reason } = choice;
  if (reason?.by === "words") return `its name says “${reason.text}”`;
  const module = "proposal" in choice ? choice.proposal.module : undefined;
  // A width alone has no proportions.
  if (reason?.by === "format" && module && !hasBothSides(module)) return "a width that is usual";
  return reason && REASONS[reason.by];
}

/** What is proposed, as something to choose. */
export function choiceOf(proposal: SizeProposal, unit: LengthUnit): SizeChoice {
  const { reason, module, repeat } = proposal;
  const words =
    reason.by === "format" && module
      ? `${reason.name}: ${moduleWords(module, unit)}`
      : reason.by === "sibling"
        ? `as large as ${reason.name}`
        : module
          ? moduleWords(module, unit)
          : `all of it ${formatSize(repeat, unit)}`;
  return { words, reason, proposal };
}

export const choiceOfFormat = (format: Format, unit: LengthUnit): SizeChoice => ({
  words: formatWords(format, unit),
  module: format,
  isTyped: false,
});

/** The formats of what it may be, the likeliest first, apart from those of all else. */
export function byKind(
  formats: readonly Format[],
  kinds: readonly FormatKind[],
): { ofKind: Format[]; others: Format[] } {
  const ofKind = formats.filter(({ kind }) => kinds.includes(kind));
  return {
    ofKind: ofKind.toSorted((a, b) => kinds.indexOf(a.kind) - kinds.indexOf(b.kind)),
    others: formats.filter(({ kind }) => !kinds.includes(kind)),
  };
}

/** What is typed, in the ways in which it can be meant. */
export function choicesTyped(text: string, unit: LengthUnit, isCounted: boolean): SizeChoice[] {
  const typed = readTypedModule(text, unit);
  if (!typed) return [];
  const { width, height, joint, jointVertical } = typed;
  const gaps = { joint: joint ?? 0, ...(jointVertical !== undefined && { jointVertical }) };
  const module = { workSize: height === undefined ? { height: width } : { width, height }, ...gaps };
  const whole = { width, ...(height !== undefined && { height }) };
  const all =
    height === undefined
      ? `all of it ${formatLength(width, unit)} wide`
      : `all of it ${formatSize({ width, height }, unit)}`;
  const modules: SizeChoice[] = isCounted
    ? [{ words: `a module of ${moduleWords(module, unit)}`, module, isTyped: true }]
    : [];
  const wholes: SizeChoice[] = joint === undefined ? [{ words: all, whole }] : [];
  // One length that no board is as wide as is rather that of the picture.
  return height === undefined && width > WIDEST_BOARD ? [...wholes, ...modules] : [...modules, ...wholes];
}

/**
 * What is offered where somebody types, or where nothing is typed all that there is: first what is rather meant, since Enter
 * takes it.
 * @param kinds what it may be, the likeliest first
 * @param text as typed so far; empty where nothing is
 */
export function choicesFor(
  { proposals, formats, kinds }: Offered,
  text: string,
  unit: LengthUnit,
  isCounted: boolean,
): SizeChoice[] {
  const words = folded(text).split(" ").filter(Boolean);
  const isAsked = ({ words: said }: SizeChoice) => words.every((word) => holds(folded(said), word));
  const { ofKind, others } = byKind(formats, kinds);
  const proposed = proposals.map((proposal) => choiceOf(proposal, unit));
  const known = [...proposed, ...ofKind.map((format) => choiceOfFormat(format, unit))].filter(isAsked);
  const rest = others.map((format) => choiceOfFormat(format, unit)).filter(isAsked);
  const typed = choicesTyped(text, unit, isCounted);
  const shown = (choices: SizeChoice[]) => choices.slice(0, MOST_SHOWN);
  // Where nothing is counted, no format says a size; and a length with its unit is no search.
  const isLength = typed.length > 0 && (!isCounted || /\d\s*(\p{L}+|["'″′])$/u.test(text.trim()));
  return isLength ? [...typed, ...shown([...known, ...rest])] : [...shown(known), ...typed, ...shown(rest)];
}

interface Offered {
  proposals: readonly SizeProposal[];
  formats: readonly Format[];
  kinds: readonly FormatKind[];
}

/** More than these nobody looks through: typing leaves fewer. */
const MOST_SHOWN = 40;

const folded = (text: string) =>
  text
    .normalize("NFD")
    .replaceAll(/\p{M}/gu, "")
    .toLowerCase()
    .replaceAll("×", "x")
    .replaceAll(/\s*x\s*/g, "x");

/** Whether a text holds a word, which may be part of one; a number from its first digit on. */
const holds = (text: string, word: string): boolean =>
  text
    .split(word)
    .some((before, i, parts) => i < parts.length - 1 && !(/^\d/.test(word) && /[\d.]$/.test(before)));

/**
 * The size that a choice gives to a picture.
 * @param count as it is counted now; what was proposed for another count is laid anew
 * @returns in words why there is none
 */
export function sizeOf(
  choice: SizeChoice,
  image: PixelSize,
  count: ModuleCount | undefined,
  isCountAsFound: boolean,
): Sized | { trouble: string } {
  if ("whole" in choice) return sized(image, { method: "size", ...choice.whole });
  if ("proposal" in choice && isCountAsFound) return choice.proposal;
  if ("proposal" in choice && !choice.proposal.module) return sized(image, choice.proposal.method);
  const module = "module" in choice ? choice.module : choice.proposal.module!;
  if (!count) return { trouble: "How many of them does the picture hold? Fill in both counts, or one." };
  const laid = layBest(module, count, image);
  return laid ? { ...laid, isSure: false } : { trouble: whyNot(module, count) };
}

function whyNot(module: Module, { across, down, bond }: ModuleCount): string {
  const { width, height } = coordinatingOf(module);
  if (across === undefined && down === undefined) return "How many of them does the picture hold?";
  if (bond.startsWith("herringbone")) return "Blocks of herringbone are about twice as long as wide.";
  return width === undefined || height === undefined
    ? "Of this only one side is given, and it is counted the other way."
    : "It cannot lie so.";
}

function sized(image: PixelSize, method: Sized["method"]): Sized | { trouble: string } {
  try {
    const { repeat, stretchPercent } = gaugeRepeat(image, method);
    return { method, repeat, stretchPercent, isSure: false };
  } catch (error) {
    if (error instanceof GaugeError) return { trouble: error.message };
    throw error;
  }
}

/** Whether two pictures hold the same modules in the same way: then what one is made of is what the other is. */
export function isLaidAlike(
  one: { line: string | null; image: PixelSize; count?: ModuleCount },
  other: { line: string | null; image: PixelSize; count?: ModuleCount },
): boolean {
  if (one.line !== null && one.line === other.line) return true;
  if (!one.count || !other.count || one.count.across === undefined) return false;
  const sides = ["across", "down", "bond", "upright"] as const;
  return (
    sides.every((side) => one.count![side] === other.count![side]) &&
    one.image.width === other.image.width &&
    one.image.height === other.image.height
  );
}
