import { z } from "zod";
import type { MaterialPlan } from "#core/convert/materialPlan";
import { type Db, oneRow } from "#server/db/database";
import type { Account } from "#server/delivery/account";
import type { ProfileRow } from "#server/profile/sql";

export interface NewDelivery {
  person: string;
  project: string | null;
  collection: string | null;
  destination: string | null;
  profiles: ProfileRow[];
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
      delivery.profiles.map(({ profile }) => profile.id),
      delivery.maxPixels,
      JSON.stringify(delivery.plan),
      delivery.plan.reduce((sum, plan) => sum + plan.files.length, 0),
    ],
  );
  for (const { profile, revision } of delivery.profiles)
    await db.query("INSERT INTO delivery_profiles (delivery, profile, revision) VALUES ($1, $2, $3)", [
      row!.id,
      profile.id,
      revision,
    ]);
  const taken = new Map(delivery.plan.map(({ material }) => [material.id, material.revision]));
  for (const [material, revision] of taken)
    await db.query("INSERT INTO delivery_materials (delivery, material, revision) VALUES ($1, $2, $3)", [
      row!.id,
      material,
      revision,
    ]);
  return row!.id;
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

/** A run that was broken off adds to what it took before. */
export async function addMadeCost(
  db: Db,
  id: string,
  made: { cost: number; seconds: number },
): Promise<void> {
  await db.query(
    "UPDATE deliveries SET made_cost = made_cost + $2, made_seconds = made_seconds + $3 WHERE id = $1",
    [id, made.cost, made.seconds],
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
