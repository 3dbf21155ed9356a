import { z } from "zod";
import { planSchema } from "#core/convert/planSchema";
import { Refusal } from "#core/text/refusal";
import type { MaterialPlan } from "#core/convert/plan";
import type { Account } from "#server/delivery/account";
import { oneRow, rows, type Db } from "#server/db/database";
import type { Slice } from "#server/db/page";

export const DELIVERY_STATES = ["planned", "running", "done", "failed", "cancelled"] as const;

const deliverySchema = z.object({
  id: z.string(),
  state: z.enum(DELIVERY_STATES),
  cancelAsked: z.boolean(),
  person: z.string(),
  project: z.object({ id: z.string(), name: z.string() }).nullable(),
  collection: z.object({ id: z.string(), name: z.string() }).nullable(),
  destination: z.object({ id: z.string(), name: z.string(), folder: z.string() }).nullable(),
  profiles: z.array(z.string()),
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
export const deliveryProgress = deliverySchema.pick({ progress: true });

const named = (table: string) =>
  `CASE WHEN ${table}.id IS NULL THEN NULL ELSE jsonb_build_object('id', ${table}.id, 'name', ${table}.name`;

const DELIVERY = `
  SELECT d.id, d.state, d.cancel_asked AS "cancelAsked", p.name AS person, ${named("j")}) END AS project,
    ${named("c")}) END AS collection, ${named("t")}, 'folder', t.folder) END AS destination,
    d.profiles, d.max_pixels AS "maxPixels",
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

export interface NewDelivery {
  person: string;
  project: string | null;
  collection: string | null;
  destination: string | null;
  profiles: string[];
  maxPixels: number | null;
  plan: MaterialPlan[];
}

export async function insertDelivery(db: Db, delivery: NewDelivery): Promise<string> {
  const row = await oneRow(
    db,
    z.object({ id: z.string() }),
    `INSERT INTO deliveries (person, project, collection, destination, profiles, max_pixels, plan, progress_total)
     VALUES ($1, $2, $3, $4, $5, $6, $7, $8) RETURNING id`,
    [
      delivery.person,
      delivery.project,
      delivery.collection,
      delivery.destination,
      delivery.profiles,
      delivery.maxPixels,
      JSON.stringify(delivery.plan),
      delivery.plan.reduce((sum, plan) => sum + plan.files.length, 0),
    ],
  );
  const taken = new Map(delivery.plan.map(({ material }) => [material.id, material.revision]));
  for (const [material, revision] of taken)
    await db.query("INSERT INTO delivery_materials (delivery, material, revision) VALUES ($1, $2, $3)", [
      row!.id,
      material,
      revision,
    ]);
  return row!.id;
}

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
  return row?.account ?? null;
}

/** Starts a run; false where the delivery has ended already, as after a repeated job. */
export async function startDelivery(db: Db, id: string): Promise<boolean> {
  const started = await db.query(
    "UPDATE deliveries SET state = 'running', started_at = COALESCE(started_at, now()) WHERE id = $1 AND state IN ('planned', 'running')",
    [id],
  );
  return started.rowCount === 1;
}

export async function setDeliveryProgress(
  db: Db,
  id: string,
  progress: { done: number; total: number; what: string },
): Promise<void> {
  await db.query(
    "UPDATE deliveries SET progress_done = $2, progress_total = $3, progress_what = $4 WHERE id = $1",
    [id, progress.done, progress.total, progress.what],
  );
}

export async function endDelivery(
  db: Db,
  id: string,
  end:
    | { state: "done"; account: Account }
    | { state: "failed"; failure: string; account?: Account }
    | { state: "cancelled" },
): Promise<void> {
  await db.query(
    "UPDATE deliveries SET state = $2, account = $3, failure = $4, ended_at = now() WHERE id = $1 AND state IN ('planned', 'running')",
    [
      id,
      end.state,
      end.state !== "cancelled" && end.account ? JSON.stringify(end.account) : null,
      end.state === "failed" ? end.failure : null,
    ],
  );
}

/** Asks a run to stop; one that has not begun is cancelled at once. False where it has ended. */
export async function askToCancel(db: Db, id: string): Promise<boolean> {
  const asked = await db.query(
    `UPDATE deliveries SET cancel_asked = true, ended_at = CASE WHEN state = 'planned' THEN now() END,
       state = CASE WHEN state = 'planned' THEN 'cancelled' ELSE state END
     WHERE id = $1 AND state IN ('planned', 'running')`,
    [id],
  );
  return asked.rowCount === 1;
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

export async function findDestinationFile(
  db: Db,
  destination: string,
  path: string,
): Promise<string | undefined> {
  const row = await oneRow(
    db,
    z.object({ sha256: z.string() }),
    "SELECT sha256 FROM destination_files WHERE destination = $1 AND path = $2",
    [destination, path],
  );
  return row?.sha256;
}

export async function keepDestinationFile(
  db: Db,
  file: { destination: string; path: string; sha256: string; delivery: string },
): Promise<void> {
  await db.query(
    `INSERT INTO destination_files (destination, path, sha256, delivery) VALUES ($1, $2, $3, $4)
     ON CONFLICT (destination, path) DO UPDATE SET sha256 = excluded.sha256, delivery = excluded.delivery`,
    [file.destination, file.path, file.sha256, file.delivery],
  );
}
