import { z } from "zod";
import { oneRow, type Db } from "#server/db/database";

const step = { done: z.number(), total: z.number(), what: z.string() };

const plainProgress = z.object(step);

const intakeProgress = z.object({ ...step, left: z.number().nullable() });

/** Seconds that the rest of the present step takes at the pace so far; null before there is a pace. */
const LEFT = `CASE WHEN i.state = 'reading' AND i.progress_done > 1 AND i.progress_total > 0 THEN
  round(extract(epoch FROM now() - i.progress_since) / i.progress_done * (i.progress_total - i.progress_done))::int END`;

/** How far an intake `i` is, as JSON. */
export const INTAKE_PROGRESS = `jsonb_build_object('done', i.progress_done, 'total', i.progress_total, 'what', i.progress_what, 'left', ${LEFT})`;

/** How far an intake is, a delivery, or the newest flattening of a photograph; undefined where there is no such. */
export async function findProgress(db: Db, topic: "intake" | "delivery" | "flattening", id: string) {
  const row =
    topic === "intake"
      ? await oneRow(
          db,
          z.object({ progress: intakeProgress }),
          `SELECT ${INTAKE_PROGRESS} AS progress FROM intakes i WHERE i.id = $1`,
          [id],
        )
      : await oneRow(
          db,
          z.object({ progress: plainProgress }),
          topic === "delivery"
            ? `SELECT jsonb_build_object('done', progress_done, 'total', progress_total, 'what', progress_what) AS progress
                 FROM deliveries WHERE id = $1`
            : `SELECT jsonb_build_object('done', round(share * 100), 'total', 100, 'what', 'Flattening') AS progress
                 FROM flattenings WHERE photo = $1 ORDER BY asked_at DESC LIMIT 1`,
          [id],
        );
  return row?.progress;
}
