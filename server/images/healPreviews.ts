import { stat } from "node:fs/promises";
import type { MapChannel } from "#core/maps/channel";
import { database } from "#server/db/database";
import { findImage } from "#server/db/files";
import { announce } from "#server/events/events";
import { fileStore } from "#server/files/store";
import { previewName, previewParts } from "#server/images/previews";
import { keepPreviews, studyFile } from "#server/intake/studyFile";

/** The studio keeps it already: it may cost what it cost then. */
const OWN_LIMITS = { seconds: 600, mebibytes: 4096 };

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
    previewParts(image).map((part) =>
      stat(fileStore().derivedPath(previewName(sha256, channel, part))).catch(() => null),
    ),
  );
  if (there.every((file) => file !== null)) return;
  await keepPreviews(
    sha256,
    image.format,
    channel,
    channel === "color" ? (image.shown_as ?? "color") : "data",
  );
  await announce(database(), { topic: "library", id: sha256 });
}
