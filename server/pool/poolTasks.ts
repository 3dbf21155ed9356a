import { colorShares } from "#core/finish/colorShares";
import { carryOut } from "#core/convert/carryOut";
import type { PlannedFile } from "#core/convert/materialPlan";
import { SAME_PICTURE, likenessOf, type Likeness } from "#core/judge/likeness";
import { pictureFigures, type PictureFigures } from "#core/judge/pictureFigures";
import { SAME_SURFACE, sharedPart } from "#core/judge/sharedPart";
import type { Purpose } from "#core/judge/holdsUp";
import type { MapChannel } from "#core/roles/channel";
import type { Named } from "#core/candidates/named";
import { judgeKnown, type Judged, type Known } from "#core/candidates/judgeKnown";
import { planCandidate, type Planned } from "#core/candidates/planCandidates";
import { isColorRole } from "#core/roles/roles";
import type { Raster } from "#core/raster/raster";
import { alphaContent } from "#server/pixels/alphaContent";
import { decode } from "#server/pixels/decode";
import { encodeTo } from "#server/pixels/encode";
import { freePixels } from "#server/pixels/freePixels";
import { makePreviews, type Preview } from "#server/pixels/previews";
import { readSmall } from "#server/pixels/study";

/** Work on pixels and on bytes from outside, for the pool's processes; arguments and results can be sent between processes. */

/**
 * A task whose code is loaded once it is asked for: a process does few kinds of work, and loading all of them took longer than
 * most tasks.
 */
const later =
  <A extends unknown[], R>(load: () => Promise<(...args: A) => R>) =>
  async (...args: A) => {
    const task = await load();
    return await task(...args);
  };

export const makeCard = later(async () => (await import("#server/pixels/makeCard")).makeCard);
export const readCardPicture = later(
  async () => (await import("#server/pixels/readCardPicture")).readCardPicture,
);
export const countModules = later(async () => (await import("#server/pixels/countModules")).countModules);
export const proveDelivery = later(async () => (await import("#server/pixels/proveDelivery")).proveDelivery);
export const drawPicture = later(async () => (await import("#server/pixels/drawPicture")).drawPicture);
export const measurePicture = later(async () => (await import("#server/pixels/drawPicture")).measurePicture);
export const measureReferencePicture = later(
  async () => (await import("#server/pixels/drawPicture")).measureReferencePicture,
);
export const panoramaFile = later(async () => (await import("#server/pixels/readPanorama")).panoramaFile);
export const pickColor = later(async () => (await import("#server/pixels/pickColor")).pickColor);
export const flattenPhoto = later(async () => (await import("#server/pixels/flattenPhoto")).flattenPhoto);
export const makeMap = later(async () => (await import("#server/pixels/makeMap")).makeMap);
export const mend = later(async () => (await import("#server/pixels/mendMap")).mend);
export const study = later(async () => (await import("#server/pixels/study")).study);
export const readLicenceFile = later(
  async () => (await import("#server/opening/readLicenceFile")).readLicenceFile,
);
export const readModel = later(async () => (await import("#server/opening/readModel")).readModel);
export const readSheet = later(async () => (await import("#server/opening/readSheet")).readSheet);
export const readColorList = later(async () => (await import("#server/opening/readColorList")).readColorList);
export const findLinks = later(async () => (await import("#server/opening/findLinks")).findLinks);
export const unzip = later(async () => (await import("#server/opening/unzip")).unzip);

export interface PreviewTask {
  path: string;
  format: string;
  channel: MapChannel;
  use: "color" | "data";
}

export async function preview(task: PreviewTask): Promise<Preview[]> {
  return makePreviews(await decode(task.path, task.format, task.use), task.channel, task.use);
}

export interface PlanTask {
  group: Named[];
  /** Where the square reduction of each image lies, by hash. */
  smalls: Record<string, string>;
  purpose: Purpose;
}

/** Whether the fourth channel of an image cuts out or fades. */
export async function opacity({
  path,
  format,
}: {
  path: string;
  format: string;
}): Promise<"cut-out" | "smooth"> {
  return alphaContent(await decode(path, format, "data")) === "varied" ? "smooth" : "cut-out";
}

/** Tells what one group of images is. */
export async function plan({ group, smalls, purpose }: PlanTask): Promise<Planned> {
  return planCandidate(group, await readSmalls(group, smalls), purpose);
}

/** Judges a set whose maps have roles that stay. */
export async function judgeMaps({
  group,
  known,
  smalls,
  purpose,
}: PlanTask & { known: Known }): Promise<Judged> {
  return judgeKnown(group, known, await readSmalls(group, smalls), purpose);
}

async function readSmalls(group: Named[], smalls: PlanTask["smalls"]) {
  const read = new Map<string, Raster>();
  for (const { image } of group)
    if (smalls[image.sha256]) read.set(image.sha256, await readSmall(smalls[image.sha256]));
  return ({ sha256 }: { sha256: string }) => read.get(sha256);
}

/** A picture to compare: where its square reduction lies, and how many pixels it has itself. */
export interface Compared {
  sha256: string;
  small: string;
  width: number;
  height: number;
}

/**
 * Compares one picture with others by their square reductions; those that are something else are left out.
 * @param whole those that may be the same however they were turned; @param near those that may be parts of each other
 * @returns how the second of each pair, by hash, follows from the first
 */
export async function compare({
  own,
  whole,
  near,
}: {
  own: Compared;
  whole: Compared[];
  near: Compared[];
}): Promise<{ sha256: string; likeness: Likeness }[]> {
  const reduced = async ({ small, width, height }: Compared) => ({
    small: await readSmall(small),
    width,
    height,
  });
  const mine = await reduced(own);
  const found = new Map<string, Likeness>();
  for (const [others, isWhole] of [
    [whole, true],
    [near, false],
  ] as const)
    for (const other of others) {
      if (found.has(other.sha256)) continue;
      const theirs = await reduced(other);
      const [first, second] = own.sha256 < other.sha256 ? [mine, theirs] : [theirs, mine];
      const likeness = isWhole ? likenessOf(first.small, second.small) : sharedPart(first, second);
      if (likeness && likeness.alike >= (isWhole ? SAME_PICTURE : SAME_SURFACE))
        found.set(other.sha256, likeness);
    }
  return [...found].map(([sha256, likeness]) => ({ sha256, likeness }));
}

/** By what its parts are found, of a picture whose reduction lies there. */
export async function figures({
  small,
}: {
  small: string;
}): Promise<{ figures: PictureFigures | null; colors: Uint8Array }> {
  const raster = await readSmall(small);
  return { figures: pictureFigures(raster), colors: colorShares(raster) };
}

export interface ConvertTask {
  file: PlannedFile;
  /** Where each source file lies, and its format, by hash. */
  sources: Record<string, { path: string; format: string }>;
  wrap: boolean;
  /** Path of the file to write. */
  to: string;
}

/** Carries out the plan of one delivered image and writes it as a file. */
export async function convert(task: ConvertTask): Promise<void> {
  freePixels(await convertOne(task));
}

/** @returns the bytes of its pixels, which nobody holds any more */
async function convertOne({ file, sources, wrap, to }: ConvertTask): Promise<number> {
  const raster = await carryOut(
    file.image,
    (map) => {
      const { path, format } = sources[map.sha256];
      return decode(path, format, isColorRole(map.role) && map.channel === "color" ? "color" : "data");
    },
    { wrap },
  );
  await encodeTo(to, raster, file);
  return raster.data.byteLength;
}
