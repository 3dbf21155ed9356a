import type { MapChannel } from "#core/roles/channel";
import { database } from "#server/db/database";
import { findImage, type ImageRow } from "#server/images/queries";
import { insertImage } from "#server/images/writes";
import { fileStore } from "#server/store/store";
import { pool } from "#server/pool/pool";
import { previewName } from "#server/pixels/previews";
import type { Compared } from "#server/pool/poolTasks";
import type { TaskLimits } from "#server/pool/processPool";

/** What one file may cost before it is set aside. */
export type ItemLimits = Pick<TaskLimits, "seconds" | "mebibytes" | "signal">;

/** Name of the square reduction of an image. */
export const smallName = (sha256: string) => `${sha256}-small`;

/** The studio keeps it already: it may cost what it cost then. */
export const OWN_LIMITS = { seconds: 600, mebibytes: 4096 };

/** A kept image whose square reduction is there; that is derived, and made again where it is lost. @throws where the image cannot be read any more */
export async function withSmall(sha256: string): Promise<Omit<Compared, "small">> {
  const { width, height } = await studyFile(sha256, OWN_LIMITS);
  return { sha256, width, height };
}

/** Work with the square reductions of images, which are there. */
export function withLocalSmalls<T>(
  hashes: string[],
  work: (smallOf: (sha256: string) => string) => Promise<T>,
): Promise<T> {
  return fileStore().withLocalDerived(hashes.map(smallName), (pathOf) =>
    work((sha256) => pathOf(smallName(sha256))),
  );
}

/** What an image is and what its pixels say; read once for each content, however often it comes. @throws with a sentence for people. */
export async function studyFile(sha256: string, limits: ItemLimits): Promise<ImageRow> {
  const known = await findImage(database(), sha256);
  if (known?.reading?.seams && (await fileStore().hasDerived(smallName(sha256)))) return known;
  return studyAnew(sha256, limits);
}

/** The same, however often it was read before. @throws with a sentence for people. */
export async function studyAnew(sha256: string, limits: ItemLimits): Promise<ImageRow> {
  const store = fileStore();
  const studied = await store.withLocal([sha256], (pathOf) =>
    pool.study({ path: pathOf(sha256), mebibytes: limits.mebibytes }, limits),
  );
  for (const { part, data } of studied.previews)
    await store.writeDerived(previewName(sha256, "color", part), data);
  await store.writeDerived(smallName(sha256), studied.small);
  const row: ImageRow = {
    sha256,
    format: studied.format,
    width: studied.width,
    height: studied.height,
    channels: studied.channels,
    bit_depth: studied.bitDepth,
    alpha: studied.alpha,
    color_space: studied.colorSpace,
    profile: studied.profile,
    profile_unreadable: studied.profileUnreadable,
    orientation: studied.orientation,
    pages: studied.pages,
    float_range: studied.range,
    reading: studied.reading,
    repetition: studied.repetition,
    shown_as: studied.shownAs,
    damaged: studied.damaged,
  };
  await insertImage(database(), row, studied.mediaType, studied);
  return row;
}

/** Makes the previews of one channel, or of an image that turned out to be something else than it looked. */
export async function keepPreviews(
  sha256: string,
  format: string,
  channel: MapChannel,
  use: "color" | "data",
  limits: Partial<ItemLimits> = {},
): Promise<void> {
  const store = fileStore();
  const previews = await store.withLocal([sha256], (pathOf) =>
    pool.preview({ path: pathOf(sha256), format, channel, use }, limits),
  );
  for (const { part, data } of previews) await store.writeDerived(previewName(sha256, channel, part), data);
}
