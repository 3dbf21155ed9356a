import { planConversion, type MaterialPlan } from "#core/convert/plan";
import { licenceNotes } from "#core/library/licence";
import { database, inTransaction } from "#server/db/database";
import { listSamples, findMaterialStates } from "#server/db/materials";
import { findCollection } from "#server/db/collections";
import { findDelivery, insertDelivery, type DeliveryRow } from "#server/db/deliveries";
import type { Person } from "#server/db/people";
import { findDestination, listProfiles } from "#server/db/profiles";
import { findProject } from "#server/db/projects";
import { announce } from "#server/events/events";
import { addJob } from "#server/jobs/queue";
import { badField, notFound } from "#server/problem";

export interface DeliveryRequest {
  /** One of the three. */
  materials?: string[];
  collection?: string;
  project?: string;
  profiles: string[];
  maxPixels?: number;
  /** Id or name. */
  destination?: string;
}

const MOST = 2000;

/** Plans a delivery without beginning it. @throws {Problem} naming what there is no such thing of. */
export async function planDelivery(request: DeliveryRequest): Promise<MaterialPlan[]> {
  const db = database();
  const known = await listProfiles(db);
  const profiles = request.profiles.map((id, at) => {
    const profile = known.find((candidate) => candidate.id === id);
    if (!profile)
      throw badField(
        `/profiles/${at}`,
        `There is no profile “${id}”. There are ${known.map((one) => one.id).join(", ")}.`,
      );
    return profile;
  });
  if (profiles.length === 0) throw badField("/profiles", "Choose at least one profile.");

  const wanted = await wantedRevisions(request);
  if (wanted.length === 0)
    throw badField(request.materials ? "/materials" : "/", "There is no material to deliver.");
  if (wanted.length > MOST)
    throw badField("/", `These are ${wanted.length} materials; one delivery takes up to ${MOST}.`);
  const materials = await findMaterialStates(db, wanted);
  const missing = wanted.find(({ id }) => !materials.some((material) => material.id === id));
  if (missing) throw badField("/materials", `There is no material with the id “${missing.id}”.`);
  const today = new Date().toISOString().slice(0, 10);
  return materials.flatMap((material) => {
    const notes =
      material.licence && licenceNotes(material.licence, { project: request.project ?? null, today });
    return profiles.map((profile) => {
      const plan = planConversion(material, profile, { maxPixels: request.maxPixels });
      if (!notes) return plan;
      return {
        ...plan,
        warnings: [...plan.warnings, ...notes.warnings],
        steps: [...plan.steps, ...notes.steps],
      };
    });
  });
}

/** A project delivers the revisions that it took; everything else the newest. */
async function wantedRevisions(request: DeliveryRequest): Promise<{ id: string; revision: number | null }[]> {
  const given = [request.materials, request.collection, request.project].filter(
    (value) => value !== undefined,
  );
  if (given.length !== 1)
    throw badField("/materials", "Say what to deliver: either materials, or a collection, or a project.");
  if (request.materials) return [...new Set(request.materials)].map((id) => ({ id, revision: null }));
  if (request.collection) {
    if (!(await findCollection(database(), request.collection)))
      throw badField("/collection", "There is no such collection.");
    const { items } = await listSamples(database(), {
      withinCollection: request.collection,
      limit: MOST + 1,
    });
    return items.map(({ id }) => ({ id, revision: null }));
  }
  const project = await findProject(database(), request.project!);
  if (!project) throw badField("/project", "There is no such project.");
  return project.revisions.map(({ material, taken }) => ({ id: material, revision: taken }));
}

/** Fixes the plan and hands it to the queue. */
export async function startDelivery(request: DeliveryRequest, person: Person): Promise<DeliveryRow> {
  const destination =
    request.destination === undefined ? undefined : await findDestination(database(), request.destination);
  if (request.destination !== undefined && !destination)
    throw badField("/destination", `There is no destination “${request.destination}”.`);
  const plan = await planDelivery(request);
  const id = await inTransaction(async (db) => {
    const delivery = await insertDelivery(db, {
      person: person.id,
      project: request.project ?? null,
      collection: request.collection ?? null,
      destination: destination?.id ?? null,
      profiles: [...new Set(request.profiles)],
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
export async function deliverAgain(id: string, person: Person): Promise<DeliveryRow> {
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
