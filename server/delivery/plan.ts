import type { MaterialPlan } from "#core/convert/materialPlan";
import type { MaterialFacts } from "#core/finish/material";
import { closeUpNotes } from "#core/convert/closeUp";
import { planConversion } from "#core/convert/plan";
import { say } from "#core/findings/say";
import { licenceNotes } from "#core/library/licence";
import { findCollection } from "#server/collection/queries";
import { database } from "#server/db/database";
import { findMaterialStates, type MaterialRow } from "#server/material/queries";
import { listSamples } from "#server/material/samples";
import { badField } from "#server/problem";
import { listProfileRows, type ProfileRow } from "#server/profile/sql";
import { findProject, findProjectPlace } from "#server/project/queries";

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

export interface DeliveryPlan {
  materials: MaterialPlan[];
  /** The profiles that it is for, as they are now. */
  profiles: ProfileRow[];
  /** Names of what was asked for and is no material: wear, and environments. */
  leftOut: string[];
}

/** Plans a delivery without beginning it. @throws {Problem} naming what there is no such thing of. */
export async function planDelivery(request: DeliveryRequest): Promise<DeliveryPlan> {
  const db = database();
  const profiles = await wantedProfiles(request);
  if (profiles.length === 0) throw badField("/profiles", "Choose at least one profile.");

  const wanted = await wantedRevisions(request);
  if (wanted.length === 0)
    throw badField(request.materials ? "/materials" : "/", "There is no material to deliver.");
  if (wanted.length > MOST)
    throw badField("/", `These are ${wanted.length} materials; one delivery takes up to ${MOST}.`);
  const found = await findMaterialStates(db, wanted);
  const missing = wanted.find(({ id }) => !found.some((material) => material.id === id));
  if (missing) throw badField("/materials", `There is no material with the id “${missing.id}”.`);
  const materials = found.filter(({ kind }) => kind === "material");
  const leftOut = found.filter(({ kind }) => kind !== "material").map(({ name }) => name);
  if (materials.length === 0)
    throw badField(
      request.materials ? "/materials" : "/",
      `There is no material to deliver: ${leftOut.join(", ")} ${leftOut.length === 1 ? "is" : "are"} laid over materials, or lit by.`,
    );
  const today = new Date().toISOString().slice(0, 10);
  const camera = request.project ? (await findProjectPlace(db, request.project))?.camera : undefined;
  const plans = materials.flatMap((material) => {
    const notes =
      material.licence && licenceNotes(material.licence, { project: request.project ?? null, today });
    return profiles.map(({ profile }) => {
      const plan = planConversion({ ...material, facts: factsOf(material) }, profile, {
        maxPixels: request.maxPixels,
      });
      return {
        ...plan,
        warnings: [
          ...plan.warnings,
          ...(camera ? closeUpNotes(plan, camera) : []),
          ...say(material.findings.filter(({ code }) => code === "seam")).map(({ message }) => message),
          ...(notes?.warnings ?? []),
        ],
        steps: [...plan.steps, ...(notes?.steps ?? [])],
      };
    });
  });
  return { materials: plans, profiles, leftOut };
}

function factsOf({ source }: MaterialRow): MaterialFacts {
  const { supplier, product, productCode, page, sheet } = source;
  const { thicknessMm = null, frost = null, slip = null, fire = null } = sheet?.line.properties ?? {};
  return { supplier, product, productCode, page, thicknessMm, frost, slip, fire };
}

async function wantedProfiles({ profiles }: DeliveryRequest): Promise<ProfileRow[]> {
  const known = await listProfileRows(database());
  return [...new Set(profiles)].map((id, at) => {
    const row = known.find(({ profile }) => profile.id === id);
    if (!row)
      throw badField(
        `/profiles/${at}`,
        `There is no profile “${id.slice(0, 80)}”. There are ${known.map(({ profile }) => profile.id).join(", ")}.`,
      );
    if (row.retired)
      throw badField(
        `/profiles/${at}`,
        `The profile “${row.profile.name}” is retired. Offer it again on the page of the profiles, or choose another one.`,
      );
    return row;
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
