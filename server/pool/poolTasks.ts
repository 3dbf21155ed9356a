import { carryOut } from "#core/convert/carryOut";
import type { PlannedFile } from "#core/convert/plan";
import { SAME_PICTURE, likenessOf, type Likeness } from "#core/judge/likeness";
import type { Purpose } from "#core/judge/holdsUp";
import type { MapChannel } from "#core/maps/channel";
import type { Named } from "#core/maps/settleNames";
import { planCandidate, type Planned } from "#core/maps/planCandidates";
import { isColorRole } from "#core/maps/roles";
import type { Raster } from "#core/raster/raster";
import { alphaContent } from "#server/images/alphaContent";
import { decode } from "#server/images/decode";
import { encodeTo } from "#server/images/encode";
import { freePixels } from "#server/images/freePixels";
import { makePreviews, type Preview } from "#server/images/previews";
import { readSmall } from "#server/images/study";

/** Work on pixels and on bytes from outside, for the pool's processes; arguments and results can be sent between processes. */

export { countModules } from "#server/images/countModules";
export { flattenPhoto } from "#server/images/flattenPhoto";
export { makeMap } from "#server/images/makeMap";
export { mend } from "#server/images/mend";
export { study } from "#server/images/study";
export { readLicenceFile } from "#server/intake/readLicenceFile";
export { readModel } from "#server/intake/readModel";
export { readSheet } from "#server/intake/readSheet";
export { unzip } from "#server/intake/unzip";

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
  const read = new Map<string, Raster>();
  for (const { image } of group)
    if (smalls[image.sha256]) read.set(image.sha256, await readSmall(smalls[image.sha256]));
  return planCandidate(group, ({ sha256 }) => read.get(sha256), purpose);
}

/** Compares one picture with others by their square reductions; those that are something else are left out. */
export async function compare({
  small,
  others,
}: {
  small: string;
  others: { sha256: string; small: string }[];
}): Promise<{ sha256: string; likeness: Likeness }[]> {
  const first = await readSmall(small);
  const found = [];
  for (const { sha256, small } of others) {
    const likeness = likenessOf(first, await readSmall(small));
    if (likeness.alike >= SAME_PICTURE) found.push({ sha256, likeness });
  }
  return found;
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
  await encodeTo(to, raster, file.format);
  return raster.data.byteLength;
}
