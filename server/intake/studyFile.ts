import type { MapChannel } from "#core/maps/channel";
import { database } from "#server/db/database";
import { findImage, insertImage, type ImageRow } from "#server/db/files";
import { fileStore } from "#server/files/store";
import { pool } from "#server/pool/pool";
import { previewName } from "#server/images/previews";
import type { TaskLimits } from "#server/pool/processPool";

/** What one file may cost before it is set aside. */
export type ItemLimits = Pick<TaskLimits, "seconds" | "mebibytes" | "signal">;

/** Name of the square reduction of an image. */
export const smallName = (sha256: string) => `${sha256}-small`;

/** What an image is and what its pixels say; read once for each content, however often it comes. @throws with a sentence for people. */
export async function studyFile(sha256: string, limits: ItemLimits): Promise<ImageRow> {
  const known = await findImage(database(), sha256);
  if (known?.reading?.seams) return known;
  const store = fileStore();
  const studied = await pool.study({ path: store.path(sha256), mebibytes: limits.mebibytes }, limits);
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
  await insertImage(database(), row, studied.mediaType, studied.fingerprint);
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
  for (const { part, data } of await pool.preview({ path: store.path(sha256), format, channel, use }, limits))
    await store.writeDerived(previewName(sha256, channel, part), data);
}
