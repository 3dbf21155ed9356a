import { Refusal } from "#core/text/refusal";
import { database } from "#server/db/database";
import { bucketPlace } from "#server/destination/bucketPlace";
import { folderPlace } from "#server/destination/folderPlace";
import type { Place } from "#server/destination/place";
import { findDestinationFile } from "#server/destination/queries";
import { keepDestinationFile } from "#server/destination/writes";
import { log } from "#server/log";
import { settings } from "#server/settings";
import { s3Bucket } from "#server/store/s3Bucket";

/** A path that says where it is by itself: no name of it leads anywhere else. */
export const isInside = (path: string): boolean =>
  path !== "" && path.split("/").every((part) => part !== "" && part !== "." && part !== "..");

/**
 * Puts a file to its stable place in a destination, whole or not at all. A file that is there already with the same
 * content is left alone, even if somebody else wrote it.
 * @returns whether it was written
 * @throws {Refusal} where the place cannot be written to
 */
export async function writeToDestination(
  destination: { id: string; name: string; folder: string },
  file: { path: string; sha256: string },
  delivery: string,
): Promise<boolean> {
  if (!isInside(file.path)) throw new Refusal(`${file.path} leads out of the destination.`);
  const place = placeOf(destination.folder);
  const recorded = await findDestinationFile(database(), destination.id, file.path);
  const written = await inWords(destination.name, place, AGAIN, async () => {
    const isKnown = recorded === undefined || recorded === file.sha256;
    const present = isKnown ? await place.hashAt(file.path) : undefined;
    if (present === file.sha256) return false;
    await place.put(file.path, file.sha256);
    return true;
  });
  if (recorded !== file.sha256)
    await keepDestinationFile(database(), {
      destination: destination.id,
      path: file.path,
      sha256: file.sha256,
      delivery,
    });
  return written;
}

const AGAIN = "and deliver again; the zip has everything.";

export function placeOf(folder: string): Place {
  const { destinationsBucket, destinationsFolder } = settings();
  return destinationsBucket
    ? bucketPlace((bucket ??= s3Bucket(destinationsBucket)), folder)
    : folderPlace(destinationsFolder, folder);
}

/** One connection for the process. */
let bucket: ReturnType<typeof s3Bucket> | undefined;

/** Work at a place, whose own trouble is said in words. @param then what to do once that is put right @throws {Refusal} */
export async function inWords<T>(
  name: string,
  place: Place,
  then: string,
  work: () => Promise<T>,
): Promise<T> {
  try {
    return await work();
  } catch (error) {
    const words = place.words(error);
    if (!words) throw error;
    log.warn({ err: error, destination: name }, "trouble at a destination");
    throw new Refusal(`The destination “${name}” ${words} ${then}`);
  }
}
