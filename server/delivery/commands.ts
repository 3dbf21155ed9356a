import type { Person } from "#server/auth/person";
import { database, inTransaction } from "#server/db/database";
import { type DeliveryRequest, planDelivery } from "#server/delivery/plan";
import { type DeliveryRow, findDelivery } from "#server/delivery/queries";
import { askToCancel, insertDelivery } from "#server/delivery/writes";
import { findDestination } from "#server/destination/queries";
import { announce } from "#server/events/events";
import { addJob } from "#server/jobs/queue";
import { badField, conflict, notFound } from "#server/problem";

/** Fixes the plan and hands it to the queue. */
export async function startDelivery(
  request: DeliveryRequest,
  person: Pick<Person, "id">,
): Promise<DeliveryRow> {
  const destination =
    request.destination === undefined ? undefined : await findDestination(database(), request.destination);
  if (request.destination !== undefined && !destination)
    throw badField("/destination", `There is no destination “${request.destination}”.`);
  const { materials: plan, profiles } = await planDelivery(request);
  const id = await inTransaction(async (db) => {
    const delivery = await insertDelivery(db, {
      person: person.id,
      project: request.project ?? null,
      collection: request.collection ?? null,
      destination: destination?.id ?? null,
      profiles,
      maxPixels: request.maxPixels ?? null,
      plan,
    });
    await addJob(db, "run-delivery", { delivery });
    await announce(db, { topic: "delivery", id: delivery, state: "planned" });
    return delivery;
  });
  return (await findDelivery(database(), id))!;
}

/** Delivers the same to the same once more, with what has changed since. @throws {Problem} */
export async function deliverAgain(id: string, person: Pick<Person, "id">): Promise<DeliveryRow> {
  const delivery = await findDelivery(database(), id);
  if (!delivery) throw notFound("delivery");
  const what = delivery.project
    ? { project: delivery.project.id }
    : delivery.collection
      ? { collection: delivery.collection.id }
      : { materials: delivery.materials.map((material) => material.id) };
  const { profiles, maxPixels, destination } = delivery;
  return startDelivery(
    { ...what, profiles, maxPixels: maxPixels ?? undefined, destination: destination?.id },
    person,
  );
}

/** Asks a delivery to stop, which it does between two files. @throws {Problem} where it has ended */
export async function cancelDelivery(id: string): Promise<void> {
  await inTransaction(async (db) => {
    const delivery = await findDelivery(db, id);
    if (!delivery) throw notFound("delivery");
    if (!(await askToCancel(db, id))) throw conflict(`The delivery is ${delivery.state} already.`);
    await announce(db, { topic: "delivery", id });
  });
}
