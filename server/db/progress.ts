import { oneRow, type Db } from "#server/db/database";
import { intakeProgress, INTAKE_PROGRESS } from "#server/db/intakes";
import { deliveryProgress } from "#server/db/deliveries";

/** How far an intake or a delivery is; undefined where there is no such. */
export async function findProgress(db: Db, topic: "intake" | "delivery", id: string) {
  const row =
    topic === "intake"
      ? await oneRow(
          db,
          intakeProgress,
          `SELECT ${INTAKE_PROGRESS} AS progress FROM intakes i WHERE i.id = $1`,
          [id],
        )
      : await oneRow(
          db,
          deliveryProgress,
          `SELECT jsonb_build_object('done', progress_done, 'total', progress_total, 'what', progress_what) AS progress
             FROM deliveries WHERE id = $1`,
          [id],
        );
  return row?.progress;
}
