import { z } from "zod";
import type { MaterialPlan } from "#core/convert/materialPlan";
import { planSchema } from "#core/convert/planSchema";
import { Refusal } from "#core/text/refusal";
import { type Db, oneRow, rows } from "#server/db/database";
import type { Slice } from "#server/db/page";
import { PROOF_LIMIT, type Proof } from "#core/proof/prove";
import type { Account, AccountProof } from "#server/delivery/account";
import { destinationSchema } from "#server/destination/queries";
import { listProofs } from "#server/delivery/proof/sql";

export const DELIVERY_STATES = ["planned", "running", "done", "failed", "cancelled"] as const;

export const deliverySchema = z.object({
  id: z.string(),
  state: z.enum(DELIVERY_STATES),
  cancelAsked: z.boolean(),
  person: z.string(),
  project: z.object({ id: z.string(), name: z.string() }).nullable(),
  collection: z.object({ id: z.string(), name: z.string() }).nullable(),
  destination: destinationSchema.nullable(),
  profiles: z.array(z.string()),
  /** As they were, and how far they have gone on since. */
  profileRevisions: z.array(
    z.object({ id: z.string(), name: z.string(), revision: z.number(), newest: z.number() }),
  ),
  /** Whether a material file carries facts of a product that have changed since. */
  hasOldFacts: z.boolean(),
  maxPixels: z.number().nullable(),
  progress: z.object({ done: z.number(), total: z.number(), what: z.string() }),
  failure: z.string().nullable(),
  createdAt: z.date(),
  startedAt: z.date().nullable(),
  endedAt: z.date().nullable(),
  materials: z.array(
    z.object({ id: z.string(), name: z.string(), revision: z.number(), newest: z.number() }),
  ),
});

export type DeliveryRow = z.infer<typeof deliverySchema>;

const named = (table: string) =>
  `CASE WHEN ${table}.id IS NULL THEN NULL ELSE jsonb_build_object('id', ${table}.id, 'name', ${table}.name`;

/** Of a delivery with its id and when it was made: whether it carries facts that are others by now. Only the building model has a place for them. */
export const hasOldFacts = (delivery: string): string => `(
    EXISTS (SELECT FROM delivery_profiles dp JOIN profiles f ON f.id = dp.profile
             WHERE dp.delivery = ${delivery}.id AND f.data->>'delivers' = 'ifc')
    AND EXISTS (SELECT FROM delivery_materials dm JOIN materials m ON m.id = dm.material JOIN sources s ON s.id = m.source
                 WHERE dm.delivery = ${delivery}.id AND s.changed_at > ${delivery}.created_at))`;

export const DELIVERY = `
  SELECT d.id, d.state, d.cancel_asked AS "cancelAsked", p.name AS person, ${named("j")}) END AS project,
    ${named("c")}) END AS collection, ${named("t")}, 'folder', t.folder, 'paths', t.paths) END AS destination,
    d.profiles, COALESCE((SELECT jsonb_agg(jsonb_build_object('id', f.id, 'name', f.name, 'revision', dp.revision, 'newest', f.revision)
        ORDER BY f.position) FROM delivery_profiles dp JOIN profiles f ON f.id = dp.profile WHERE dp.delivery = d.id), '[]') AS "profileRevisions",
    ${hasOldFacts("d")} AS "hasOldFacts", d.max_pixels AS "maxPixels",
    jsonb_build_object('done', d.progress_done, 'total', d.progress_total, 'what', d.progress_what) AS progress,
    d.failure, d.created_at AS "createdAt", d.started_at AS "startedAt", d.ended_at AS "endedAt",
    COALESCE((SELECT jsonb_agg(jsonb_build_object('id', m.id, 'name', m.name, 'revision', dm.revision, 'newest', m.revision)
        ORDER BY lower(m.name)) FROM delivery_materials dm JOIN materials m ON m.id = dm.material WHERE dm.delivery = d.id), '[]') AS materials
  FROM deliveries d JOIN people p ON p.id = d.person LEFT JOIN projects j ON j.id = d.project
  LEFT JOIN collections c ON c.id = d.collection LEFT JOIN destinations t ON t.id = d.destination`;

export const findDelivery = (db: Db, id: string) =>
  oneRow(db, deliverySchema, `${DELIVERY} WHERE d.id = $1`, [id]);

/** The newest first. */
export const listDeliveries = (db: Db, { offset, limit }: Slice, project?: string) =>
  rows(
    db,
    deliverySchema,
    `${DELIVERY} WHERE $1::uuid IS NULL OR d.project = $1 ORDER BY d.created_at DESC, d.id OFFSET $2 LIMIT $3`,
    [project ?? null, offset, limit],
  );

/** The plan as it was fixed. @throws {Refusal} where another version of the program made it in a way that this one cannot carry out */
export async function readPlan(db: Db, id: string): Promise<MaterialPlan[]> {
  const row = await oneRow(db, z.object({ plan: z.unknown() }), "SELECT plan FROM deliveries WHERE id = $1", [
    id,
  ]);
  const read = z.array(planSchema).safeParse(row?.plan ?? []);
  if (read.success) return read.data;
  throw new Refusal(
    "It was planned by another version of the program, which this one cannot carry out. Deliver it again.",
  );
}

export async function readAccount(db: Db, id: string): Promise<Account | null> {
  const row = await oneRow(
    db,
    z.object({ account: z.custom<Account>().nullable() }),
    "SELECT account FROM deliveries WHERE id = $1",
    [id],
  );
  if (!row?.account) return null;
  const proofs = await listProofs(db, id);
  const materials = row.account.materials.map((material) => {
    const found = proofs.find((one) => one.material === material.id && one.profile === material.profile);
    return found?.proof ? { ...material, proof: accountProof(found.proof) } : material;
  });
  return { ...row.account, materials };
}

const rounded = (value: number) => Number(value.toFixed(2));

function accountProof({ scenes, worst, causes }: Proof): AccountProof {
  const { name, mean, p95, most } = scenes[worst];
  return {
    meanDeltaE: rounded(mean),
    p95DeltaE: rounded(p95),
    maxDeltaE: rounded(most),
    scene: name,
    isOverLimit: mean > PROOF_LIMIT || causes.length > 0,
    causes,
  };
}

export async function cancelAsked(db: Db, id: string): Promise<boolean> {
  const row = await oneRow(
    db,
    z.object({ cancel_asked: z.boolean() }),
    "SELECT cancel_asked FROM deliveries WHERE id = $1",
    [id],
  );
  return row?.cancel_asked ?? true;
}
