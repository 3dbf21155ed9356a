import type { MapChannel } from "#core/roles/channel";
import { database } from "#server/db/database";
import { findImage } from "#server/images/queries";
import { announce } from "#server/events/events";
import { fileStore } from "#server/store/store";
import { previewName, previewParts } from "#server/pixels/previews";
import { keepPreviews, OWN_LIMITS, studyFile } from "#server/images/studyFile";

/**
 * Makes the pictures of an image again where one of them is lost; they are derived, and may go missing. What was read before seams
 * were measured is read anew.
 */
export async function healPreviews(sha256: string, channel: MapChannel): Promise<void> {
  const image = await findImage(database(), sha256);
  if (!image) return;
  if (image.reading && !image.reading.seams) {
    await studyFile(sha256, OWN_LIMITS);
    await announce(database(), { topic: "library", id: sha256 });
    return;
  }
  const there = await Promise.all(
    previewParts(image).map((part) => fileStore().hasDerived(previewName(sha256, channel, part))),
  );
  if (there.every(Boolean)) return;
  await keepPreviews(
    sha256,
    image.format,
    channel,
    channel === "color" ? (image.shown_as ?? "color") : "data",
  );
  await announce(database(), { topic: "library", id: sha256 });
}
