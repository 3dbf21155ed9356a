import { imageFormat, JPEG_QUALITY, type ImageFormat } from "#core/convert/imageFormats";
import { imageCost } from "#core/convert/imageCost";
import { layersOf, type MaterialPlan, type PlannedFile } from "#core/convert/materialPlan";

/** Something to be known before a delivery, and of which materials. */
export interface SummedNote {
  text: string;
  count: number;
  /** Names, the first few. */
  of: string[];
}

/** A material of a group, as far as it is shown. */
export interface GroupMember {
  id: string;
  name: string;
  revision: number;
  repeat: MaterialPlan["material"]["repeat"];
  isPlain: boolean;
  /** Of its colour: a file's hash and channel, or the colour itself. */
  picture: { sha256: string; channel: string } | null;
  color: string | null;
  steps: string[];
  warnings: string[];
  notCarried: string[];
  correction: string[];
}

/** Materials of which a profile makes the same by the same operations. */
export interface PlanGroup {
  profile: string;
  count: number;
  /** The first of them. */
  members: GroupMember[];
  /** What is made of each: input, operations, what it becomes. */
  files: { slot: string; from: string[]; operations: string[]; becomes: string }[];
  /** Name of the material file. */
  container: string | null;
}

export interface PlanSummary {
  materials: number;
  files: number;
  /** About so many, as files of such images usually take. */
  bytes: number;
  look: SummedNote[];
  notCarried: SummedNote[];
  /** The largest first. */
  groups: PlanGroup[];
}

const NAMES_SHOWN = 4;
const MEMBERS_SHOWN = 24;
const NOTES_SHOWN = 12;

/** What a pixel's channel takes in a file, against its bytes in memory: as textures usually come out. */
const PACKS_TO: Record<ImageFormat, number> = { png: 0.6, jpeg: 0.17, tiff: 0.75, webp: 0.45, exr: 1.1 };

/** One answer on top of all plans: what is to be looked at, and below it what is made, alike things together. */
export function summedPlans(plans: readonly MaterialPlan[]): PlanSummary {
  const groups = new Map<string, MaterialPlan[]>();
  for (const plan of plans) {
    const key = keyOf(plan);
    const known = groups.get(key);
    if (known) known.push(plan);
    else groups.set(key, [plan]);
  }
  return {
    materials: new Set(plans.map(({ material }) => material.id)).size,
    files: plans.reduce((sum, { files, container }) => sum + files.length + (container ? 1 : 0), 0),
    bytes: expectedBytes(plans),
    look: notesOf(plans, ({ warnings }) => warnings),
    notCarried: notesOf(plans, ({ notCarried }) => notCarried),
    groups: [...groups.values()].map(groupOf).toSorted((a, b) => b.count - a.count),
  };
}

/** About so many, as files of such images usually take. */
export const expectedBytes = (plans: readonly MaterialPlan[]): number =>
  plans.reduce((sum, { files }) => sum + files.reduce((all, file) => all + bytesOf(file), 0), 0);

const becomes = ({ width, height, bitDepth, format, encoding, tag }: PlannedFile) =>
  `${width} × ${height}, ${bitDepth}-bit ${format.toUpperCase()}, ${encoding === "srgb" ? "sRGB" : "raw"}${tag === "icc" ? " with profile" : ""}`;

const keyOf = ({ profile, files, container }: MaterialPlan): string =>
  JSON.stringify([
    profile,
    container?.kind,
    files.map((file) => [file.slot, file.operations, becomes(file)]),
  ]);

function groupOf(plans: MaterialPlan[]): PlanGroup {
  const [first] = plans;
  return {
    profile: first.profile,
    count: plans.length,
    members: plans.slice(0, MEMBERS_SHOWN).map(memberOf),
    files: first.files.map((file) => ({
      slot: file.slot,
      from: sourcesOf(file),
      operations: file.operations,
      becomes: becomes(file),
    })),
    container: first.container && first.container.path.replace(/^.*\//, ""),
  };
}

function memberOf({ material, files, steps, warnings, notCarried, correction }: MaterialPlan): GroupMember {
  const colored = files.find(({ role }) => role === "base_color") ?? files[0];
  const source = colored && layersOf(colored.image).find((layer) => layer.source)?.source;
  return {
    id: material.id,
    name: material.name,
    revision: material.revision,
    repeat: material.repeat,
    isPlain: material.layout === "plain",
    picture: source ? { sha256: source.sha256, channel: source.channel } : null,
    color: material.finish.color ?? null,
    steps,
    warnings,
    notCarried,
    correction,
  };
}

function sourcesOf({ image }: PlannedFile): string[] {
  const values =
    image.kind === "packed" ? image.channels.filter((channel) => typeof channel === "number") : [];
  const names = layersOf(image).flatMap(({ source }) => (source ? [source.fileName] : []));
  return [...new Set(names), ...values.map((value) => `value ${value}`)];
}

/** Words without what is of one material alone: its file's name, and numbers. */
const commonWords = (text: string): string =>
  text.replaceAll(/ \([^()]*\.\w+\)/g, "").replaceAll(/\d+(?:\.\d+)?/g, "…");

/** The same words are one note, be it with other numbers; those that concern most come first. */
function notesOf(plans: readonly MaterialPlan[], wordsOf: (plan: MaterialPlan) => string[]): SummedNote[] {
  const notes = new Map<string, { texts: Set<string>; names: Set<string> }>();
  for (const plan of plans)
    for (const words of wordsOf(plan)) {
      const common = commonWords(words);
      const known = notes.get(common) ?? { texts: new Set(), names: new Set() };
      notes.set(common, known);
      known.texts.add(words);
      known.names.add(plan.material.name);
    }
  return [...notes]
    .map(([common, { texts, names }]) => ({
      text: texts.size === 1 ? [...texts][0] : common,
      count: names.size,
      of: [...names].slice(0, NAMES_SHOWN),
    }))
    .toSorted((a, b) => b.count - a.count)
    .slice(0, NOTES_SHOWN);
}

/**
 * Bytes of a JPEG against one of the usual quality: its steps grow with 100 − quality, and its bytes shrink with their 0.65th power, as
 * counted on eleven textures (0.56 at 85, 0.40 at 75; 2.75 is the most).
 */
const jpegShare = (quality: number): number =>
  Math.min(2.75, ((100 - JPEG_QUALITY) / (100 - quality)) ** 0.65);

function bytesOf(file: PlannedFile): number {
  const { quality, format, encoding } = file;
  const { isLossless } = imageFormat(format);
  const packed = PACKS_TO[format] * (quality === undefined ? 1 : jpegShare(quality));
  return Math.round(imageCost(file) * packed * (isLossless && encoding === "linear" ? 0.8 : 1));
}
