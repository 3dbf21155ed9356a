import { access } from "node:fs/promises";
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

/** A kept image with where its square reduction lies; that is derived, and made again where it is lost. @throws where the image cannot be read any more */
export async function withSmall(sha256: string): Promise<Compared> {
  const { width, height } = await studyFile(sha256, OWN_LIMITS);
  return { sha256, width, height, small: fileStore().derivedPath(smallName(sha256)) };
}

/** What an image is and what its pixels say; read once for each content, however often it comes. @throws with a sentence for people. */
export async function studyFile(sha256: string, limits: ItemLimits): Promise<ImageRow> {
  const known = await findImage(database(), sha256);
  const store = fileStore();
  if (known?.reading?.seams && (await isThere(store.derivedPath(smallName(sha256))))) return known;
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
  await insertImage(database(), row, studied.mediaType, studied);
  return row;
}

function isThere(path: string): Promise<boolean> {
  return access(path).then(
    () => true,
    () => false,
  );
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
