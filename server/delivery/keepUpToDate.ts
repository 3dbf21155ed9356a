import { database } from "#server/db/database";
import { bringUpToDate } from "#server/delivery/outOfDate";
import { announce } from "#server/events/events";
import { listKeepers, noteKept } from "#server/delivery/kept";

/**
 * Delivers again what is out of date of a project where it is kept up to date. Run by the worker; may be run at any time: what is on its
 * way is not begun once more, and its end asks again.
 */
export async function keepUpToDate(project: string): Promise<void> {
  for (const { destination, person } of await listKeepers(database(), project)) {
    const brought = await bringUpToDate({ id: person }, { project, destination });
    const [failure] = brought.flatMap(({ failure }) => failure ?? []);
    await noteKept(database(), project, destination, failure ?? null);
  }
  await announce(database(), { topic: "library", id: project });
}
