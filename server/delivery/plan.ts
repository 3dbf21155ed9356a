import type { MaterialPlan } from "#core/convert/materialPlan";
import { planConversion } from "#core/convert/plan";
import { licenceNotes } from "#core/library/licence";
import { findCollection } from "#server/collection/queries";
import { database } from "#server/db/database";
import { findMaterialStates, listSamples } from "#server/material/queries";
import { badField } from "#server/problem";
import { listProfiles } from "#server/profile/sql";
import { findProject } from "#server/project/queries";

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
