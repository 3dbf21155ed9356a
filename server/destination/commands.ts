import { portableName } from "#core/library/portableName";
import { database } from "#server/db/database";
import { findDestination, type DestinationRow } from "#server/destination/queries";
import { insertDestination, updateDestinationPaths } from "#server/destination/writes";
import type { SeenPath } from "#core/library/seenPath";
import { badField, notFound } from "#server/problem";

/** @throws {Problem} where the name or the folder is another one's */
export const createDestination = (destination: { name: string; folder: string }): Promise<DestinationRow> =>
  insertDestination(database(), destination);

/** Says where a destination lies as people's machines see it. @throws {Problem} where one kind of machine is named twice */
export async function setDestinationPaths(id: string, paths: SeenPath[]): Promise<DestinationRow> {
  const systems = paths.map(({ system }) => system.toLowerCase());
  const twice = systems.findIndex((system, at) => systems.indexOf(system) < at);
  if (twice >= 0) throw badField(`/paths/${twice}/system`, `“${paths[twice].system}” is there twice.`);
  const destination = await updateDestinationPaths(database(), id, paths);
  if (!destination) throw notFound("destination");
  return destination;
}

/** The destination of a name, made where there is none yet, with a folder named after it. */
export async function findOrCreateDestination(name: string): Promise<DestinationRow> {
  return (
    (await findDestination(database(), name)) ??
    createDestination({ name, folder: portableName(name, "destination") })
  );
}
