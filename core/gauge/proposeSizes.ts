import type { Family } from "#core/finish/family";
import { SURE, type ModuleCount } from "#core/gauge/findModules";
import { coordinatingOf, FORMAT_KINDS, type Format, type FormatKind } from "#core/gauge/formats";
import { layModule, type Module } from "#core/gauge/layModule";
import {
  GaugeError,
  gaugeRepeat,
  MUCH_STRETCH,
  type ModuleSize,
  type PixelSize,
  type RepeatMethod,
} from "#core/gauge/repeat";
import { sizesInWords, SURELY_MM, type SaidSize } from "#core/gauge/sizeWords";
import type { Repeat } from "#core/length/repeat";

/** What others have in common with a material whose module they took. */
export const USED_BY = ["line", "alike", "supplier", "family"] as const;
export type UsedBy = (typeof USED_BY)[number];

/** A module by which another material got its size. */
export interface UsedModule {
  module: Module;
  by: UsedBy;
}

/** What speaks for a size. */
export interface SizeEvidence {
  /** The picture that is measured. */
  image: PixelSize;
  /** What was counted in it; undefined where nothing was. */
  count?: ModuleCount;
  family: Family | null;
  /** Its name, its product, its files. */
  words: string[];
  /** Modules of others, the nearest kin and the newest first. */
  used: UsedModule[];
  /** One of its line whose size is known and was not counted. */
  sibling?: { id: string; name: string; image: PixelSize; repeat: Repeat };
  /** The formats that there are, the studio's own first. */
  formats: readonly Format[];
}

/** What a size is proposed by. */
export type SizeReason =
  | { by: "words"; text: string }
  | { by: "sibling"; name: string }
  | { by: UsedBy }
  | { by: "format"; name: string };

/** A size that something speaks for. */
export interface SizeProposal {
  method: Extract<RepeatMethod, { method: "modules" | "size" | "same-as" }>;
  /** The module that is laid, so that it can be laid for another count. */
  module?: Module;
  repeat: Repeat;
  /** By how much the picture would be stretched, in percent. */
  stretchPercent: number;
  reason: SizeReason;
  /** Nobody has to look: the count is sure, and what the module is was told. */
  isSure: boolean;
}

/** A picture that has its own proportions fits a module as nearly as this, in percent. */
const FITS = 1.5;
/** So many can be looked through. */
const MOST = 6;
/** One length beside a count of rows is that of a board up to here, mm. */
export const WIDEST_BOARD = 400;

/** Kinds of formats that a family is made in, the usual ones first. Of those that are made in none, none is proposed. */
const KINDS: Record<Family, FormatKind[]> = {
  brick: ["brick", "block"],
  stone: ["paving", "slate", "tile", "panel"],
  timber: ["board", "panel"],
  plaster: ["block", "panel"],
  tile: ["tile", "roof tile", "slate", "panel"],
  metal: ["panel", "roof tile"],
  fabric: ["tile"],
  paint: ["block", "brick"],
  ground: ["paving"],
};

/** Words that say of what kind a format is, whatever the family. */
const KIND_WORDS: [RegExp, FormatKind][] = [
  [/\b(pav(er|ers|ing|ement)|setts?|cobbles?|flag(s|stones?)?|brick ?floors?|klinker|pflaster)\b/i, "paving"],
  [/\b(shingles?|slates?|shakes?)\b/i, "slate"],
  [/\b(pan|roof(ing)?)[- ]?tiles?\b/i, "roof tile"],
  [/\b(mosaics?|tiles?|fliesen?)\b/i, "tile"],
  [/\b(deck(ing)?|planks?|boards?|floorboards?|parquet|cladding|strips?)\b/i, "board"],
  [/\bblock(s|work)?\b/i, "block"],
  [/\b(panels?|sheets?|ceilings?|plasterboard|plywood)\b/i, "panel"],
  [/\b(bricks?|brickwork|ziegel)\b/i, "brick"],
];

/**
 * The sizes that a picture may have, best first: what its name says, what others of its line, its supplier or its family
 * were given, and standard formats of its kind whose proportions are those that were counted.
 */
export function proposeSizes(evidence: SizeEvidence): SizeProposal[] {
  const used = fromUsed(evidence);
  const isOfOther = ({ reason, module }: SizeProposal) =>
    reason.by !== "line" && isOfOtherKind(evidence, module!);
  const proposals = [
    ...fromWords(evidence),
    ...fromSibling(evidence),
    ...used.filter((one) => !isOfOther(one)),
    ...fromFormats(evidence),
    ...used.filter(isOfOther),
  ];
  const each: SizeProposal[] = [];
  for (const proposal of proposals) if (!each.some((one) => isSameSize(one, proposal))) each.push(proposal);
  return each.slice(0, MOST);
}

const isSameSize = ({ repeat: one }: SizeProposal, { repeat: other }: SizeProposal) =>
  Math.abs(one.width / other.width - 1) < 1e-3 && Math.abs(one.height / other.height - 1) < 1e-3;

/** A way to the size, with what comes of it; nothing where it leads to none. */
function proposed(
  { image }: Pick<SizeEvidence, "image">,
  method: SizeProposal["method"],
  reason: SizeReason,
  isTold: boolean,
): SizeProposal[] {
  try {
    const { repeat, stretchPercent } = gaugeRepeat(image, method);
    const isSure = isTold && Math.abs(stretchPercent) <= FITS;
    return [{ method, repeat, stretchPercent, reason, isSure }];
  } catch (error) {
    if (error instanceof GaugeError) return [];
    throw error;
  }
}

/** How a module lies best in a picture: lying or standing, as its proportions say. Undefined where it can lie in no way. */
export function layBest(
  module: Module,
  count: ModuleCount,
  image: PixelSize,
): Pick<SizeProposal, "method" | "repeat" | "stretchPercent"> | undefined {
  return laid({ image, count }, module, { by: "family" })[0];
}

/** A module as it lies best in the picture; nothing where nothing was counted, or it cannot lie so. */
function laid(
  evidence: Pick<SizeEvidence, "image" | "count">,
  module: Module,
  reason: SizeReason,
  isTold = reason.by === "line",
) {
  const { count, image } = evidence;
  if (!count) return [];
  const isCounted = isTold && count.sure >= SURE && isPair(count) && hasBothSides(module);
  return waysToLie(module, count, image)
    .flatMap((standing) => {
      const method = layModule(module, count, image, standing);
      return method
        ? proposed(evidence, method, reason, isCounted).map((found) => ({ ...found, module }))
        : [];
    })
    .toSorted(byStretch)
    .slice(0, 1);
}

/** Lying, standing: a board, of which the width alone is known, lies along the longer side of what was counted. */
function waysToLie(module: Module, count: ModuleCount, image: PixelSize): boolean[] {
  const { across, down } = count;
  if (across === undefined || down === undefined || hasBothSides(module)) return [false, true];
  return [image.width / across < image.height / down];
}

const byStretch = (a: SizeProposal, b: SizeProposal) =>
  Math.abs(a.stretchPercent) - Math.abs(b.stretchPercent);

/** In both directions, so that one can be held against the other. */
const isPair = (count: { across?: number; down?: number }) =>
  count.across !== undefined && count.down !== undefined;

function sidesOf({ workSize, coverSize }: Module) {
  const { width, height } = coverSize ?? workSize ?? {};
  return { across: width, down: height };
}

/** Whether a module says how wide and how high it is: of boards, the width alone is known. */
export const hasBothSides = (module: Module): boolean => isPair(sidesOf(module));

/** Modules of its line, whatever they do to the picture; those of other kin where its proportions are theirs. */
const fromUsed = (evidence: SizeEvidence) =>
  evidence.used
    .flatMap(({ module, by }) => laid(evidence, module, { by }))
    .filter(({ reason, stretchPercent }) => reason.by === "line" || Math.abs(stretchPercent) <= MUCH_STRETCH);

function fromSibling(evidence: SizeEvidence): SizeProposal[] {
  const { sibling, image } = evidence;
  if (!sibling) return [];
  const { id, name, repeat } = sibling;
  const isAlike =
    Math.abs(image.width / image.height / (sibling.image.width / sibling.image.height) - 1) < 0.01;
  const method = { method: "same-as" as const, material: id, ...repeat };
  // Where something is counted, the count decides.
  return proposed(evidence, method, { by: "sibling", name }, isAlike && !evidence.count);
}

function fromWords(evidence: SizeEvidence): SizeProposal[] {
  const said = evidence.words.flatMap(sizesInWords);
  return said.flatMap((one) =>
    [...modulesSaid(evidence, one), ...wholeSaid(evidence, one)]
      .filter(({ stretchPercent }) => Math.abs(stretchPercent) <= MUCH_STRETCH)
      .toSorted(byStretch),
  );
}

/** What words say, read as the size of one module. */
function modulesSaid(evidence: SizeEvidence, said: SaidSize): SizeProposal[] {
  const { count } = evidence;
  if (!count) return [];
  const isBoard = said.height === undefined && kindsOf(evidence)[0] === "board";
  return isPair(count) && !isBoard ? facesSaid(evidence, said) : boardsSaid(evidence, said);
}

/** Of boards, or where rows alone are counted, their width: of length, width and thickness the largest that a board can be wide. */
function boardsSaid(evidence: SizeEvidence, said: SaidSize): SizeProposal[] {
  const widths = [said.width, said.height, said.third].filter((mm) => mm !== undefined && mm <= WIDEST_BOARD);
  // Boards are sold in millimetres: a number that may be centimetres is none.
  const isInCm = said.isOpen && Math.max(said.width, said.height ?? 0) >= SURELY_MM;
  if (widths.length === 0 || isInCm) return [];
  const height = Math.max(...(widths as number[]));
  const board = evidence.formats.find(
    ({ workSize }) => workSize?.width === undefined && isNear(workSize?.height ?? 0, height),
  );
  const joint = said.joint ?? board?.joint ?? 0;
  return laid(evidence, { workSize: { height }, joint }, { by: "words", text: said.text }, false);
}

/** Where both directions are counted, its face with the joint that is said, or that a format of its kind has, or that is usual. */
function facesSaid(evidence: SizeEvidence, { text, width, ...said }: SaidSize): SizeProposal[] {
  if (said.height === undefined) return [];
  // Bricks are sold by length, depth and height, of which the depth does not show.
  const height = said.third !== undefined && evidence.family === "brick" ? said.third : said.height;
  const kinds = kindsOf(evidence);
  const has = (size: ModuleSize | undefined) =>
    size?.width !== undefined &&
    isNear(size.width, Math.max(width, height)) &&
    isNear(size.height ?? 0, Math.min(width, height));
  const ofItsKind = evidence.formats.filter(({ kind }) => kinds.includes(kind));
  const known = ofItsKind.filter(({ workSize }) => has(workSize));
  // What is sold by a round size may have it with its joint: then there are two.
  const nominal = ofItsKind.filter((format) => !known.includes(format) && has(coordinatingOf(format)));
  const face = { workSize: { width, height } };
  const modules: Module[] =
    said.joint !== undefined
      ? [{ ...face, joint: said.joint }]
      : known.length > 0
        ? [{ ...face, joint: known[0].joint, jointVertical: known[0].jointVertical }]
        : [
            { ...face, joint: usualJoint(evidence.family, kinds[0]) },
            { ...face, joint: 0 },
          ];
  const isTold = !said.isOpen && nominal.length === 0 && (said.joint !== undefined || known.length > 0);
  return [...modules, ...nominal].flatMap((one) =>
    laid(evidence, one, { by: "words", text }, isTold && modules.length === 1),
  );
}

/** Joints of what is laid in mortar or sand, where nothing says them; the rest lies close. */
const usualJoint = (family: Family | null, kind: FormatKind | undefined): number =>
  family === "fabric" || kind === undefined ? 0 : (USUAL_JOINT[kind] ?? 0);
const USUAL_JOINT: Partial<Record<FormatKind, number>> = { brick: 10, block: 10, paving: 3, tile: 3 };

/** Half a millimetre is within what makers allow. */
const isNear = (one: number, other: number) => Math.abs(one - other) <= 0.5;

/** What words say, read as the size of the whole picture. Whether it is meant so, words alone do not say. */
function wholeSaid(evidence: SizeEvidence, { text, width, height }: SaidSize): SizeProposal[] {
  if (height === undefined && width <= WIDEST_BOARD) return [];
  const method = { method: "size" as const, width, ...(height !== undefined && { height }) };
  return proposed(evidence, method, { by: "words", text }, false);
}

/** Formats of its kind, those with the counted proportions first; where only rows were counted, as they are usual. */
function fromFormats(evidence: SizeEvidence): SizeProposal[] {
  const kinds = kindsOf(evidence);
  const fitting = evidence.formats.flatMap((format) => {
    const rank = kinds.indexOf(format.kind);
    const [best] = rank < 0 ? [] : laid(evidence, format, { by: "format", name: format.name });
    return best && Math.abs(best.stretchPercent) <= MUCH_STRETCH ? [{ rank, best, format }] : [];
  });
  const said = longWords(evidence.words.join(" "));
  // “Flags” are rather of a format that is called a flag, and a floor of floorboards.
  const isCalledSo = ({ name }: Format) =>
    longWords(name).some((word) => said.some((other) => word.startsWith(other) || other.startsWith(word)))
      ? 0
      : 1;
  const nearness = ({ best }: (typeof fitting)[number]) => (Math.abs(best.stretchPercent) <= FITS ? 0 : 1);
  return fitting
    .toSorted(
      (a, b) => nearness(a) - nearness(b) || a.rank - b.rank || isCalledSo(a.format) - isCalledSo(b.format),
    )
    .map(({ best }) => best);
}

const longWords = (text: string): string[] => text.toLowerCase().match(/[a-z]{4,}/g) ?? [];

/** Whether a name says of what kind it is, and a module is a format of others alone. */
function isOfOtherKind({ words, formats }: SizeEvidence, { workSize }: Module): boolean {
  const told = kindsTold(words);
  const known = formats.filter(
    (format) =>
      isNear(format.workSize?.width ?? 0, workSize?.width ?? -1) &&
      isNear(format.workSize?.height ?? 0, workSize?.height ?? -1),
  );
  return told.length > 0 && known.length > 0 && !known.some(({ kind }) => told.includes(kind));
}

const kindsTold = (words: string[]): FormatKind[] => {
  const text = words.join(" ").replaceAll("_", " ");
  return KIND_WORDS.filter(([pattern]) => pattern.test(text)).map(([, kind]) => kind);
};

/** Kinds of formats that a material may be of, the likeliest first. */
export function kindsOf({ family, words }: Pick<SizeEvidence, "family" | "words">): FormatKind[] {
  const told = kindsTold(words);
  const kinds = [...new Set([...told, ...(family ? KINDS[family] : [])])];
  return kinds.length === 0 && family === null ? [...FORMAT_KINDS] : kinds;
}
