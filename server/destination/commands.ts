import { portableName } from "#core/library/portableName";
import { database } from "#server/db/database";
import { findDestination, type DestinationRow } from "#server/destination/queries";
import { insertDestination } from "#server/destination/writes";

/** @throws {Problem} where the name or the folder is another one's */
export const createDestination = (destination: { name: string; folder: string }): Promise<DestinationRow> =>
  insertDestination(database(), destination);

/** The destination of a name, made where there is none yet, with a folder named after it. */
export async function findOrCreateDestination(name: string): Promise<DestinationRow> {
  return (
    (await findDestination(database(), name)) ??
    createDestination({ name, folder: portableName(name, "destination") })
  );
}
