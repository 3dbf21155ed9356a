import { randomUUID } from "node:crypto";
import { createWriteStream } from "node:fs";
import { mkdir, rename, rm } from "node:fs/promises";
import { dirname, join, resolve, sep } from "node:path";
import { pipeline } from "node:stream/promises";
import { database } from "#server/db/database";
import { findDestinationFile, keepDestinationFile } from "#server/db/deliveries";
import { hashOf } from "#server/files/hashOf";
import { fileStore } from "#server/files/store";
import { settings } from "#server/settings";

/**
 * Puts a file to its stable place in a destination, whole or not at all. A file that is there already with the same
 * content is left alone, even if somebody else wrote it.
 * @returns whether it was written.
 */
export async function writeToDestination(
  destination: { id: string; folder: string },
  file: { path: string; sha256: string },
  delivery: string,
): Promise<boolean> {
  const root = join(settings().destinationsFolder, destination.folder);
  const target = resolve(root, file.path);
  if (!target.startsWith(root + sep)) throw new Error(`${file.path} leads out of the destination.`);
  const recorded = await findDestinationFile(database(), destination.id, file.path);
  const present = recorded === undefined || recorded === file.sha256 ? await hashOf(target) : undefined;
  const same = present === file.sha256;
  if (!same) {
    await mkdir(dirname(target), { recursive: true });
    const incoming = join(dirname(target), `.incoming-${randomUUID()}`);
    try {
      await pipeline(fileStore().stream(file.sha256), createWriteStream(incoming, { flags: "wx" }));
      await rename(incoming, target);
    } catch (error) {
      await rm(incoming, { force: true });
      throw error;
    }
  }
  if (recorded !== file.sha256)
    await keepDestinationFile(database(), {
      destination: destination.id,
      path: file.path,
      sha256: file.sha256,
      delivery,
    });
  return !same;
}
