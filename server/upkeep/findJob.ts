import { z } from "zod";
import { type Db, oneRow } from "#server/db/database";

/** Any act that runs as a job, by the id that asking for it gave. */
export const jobSchema = z.object({
  id: z.string(),
  kind: z.enum(["intake", "delivery", "mend", "flattening", "sweep", "change", "colors", "remake"]),
  state: z.enum(["waiting", "running", "paused", "done", "failed", "cancelled"]),
  /** Steps done of all, and what is being done; null where that cannot be said. */
  progress: z.object({ done: z.number(), total: z.number(), what: z.string() }).nullable(),
  /** Where what came of it can be read. */
  result: z.string().nullable(),
  failure: z.string().nullable(),
});

const STEPS = "jsonb_build_object('done', progress_done, 'total', progress_total, 'what', progress_what)";

export const findJob = (db: Db, id: string) =>
  oneRow(
    db,
    jobSchema,
    `SELECT id, 'intake' AS kind, failure, ${STEPS} AS progress, '/intakes/' || id AS result,
       CASE WHEN state = 'failed' THEN 'failed' WHEN state IN ('review', 'accepted') THEN 'done'
            WHEN hold = 'pause' THEN 'paused' WHEN state = 'receiving' THEN 'waiting' ELSE 'running' END AS state
       FROM intakes WHERE id = $1
     UNION ALL
     SELECT id, 'delivery', failure, ${STEPS}, '/deliveries/' || id,
       CASE state WHEN 'planned' THEN 'waiting' ELSE state END
       FROM deliveries WHERE id = $1
     UNION ALL
     SELECT id, 'mend', failure, NULL, '/materials/' || material || '/mends',
       CASE WHEN failure IS NOT NULL THEN 'failed' WHEN ended_at IS NOT NULL OR proposal IS NOT NULL THEN 'done' ELSE 'running' END
       FROM mends WHERE id = $1
     UNION ALL
     SELECT id, 'flattening', failure,
       jsonb_build_object('done', round(share * 100), 'total', 100, 'what', 'Flattening'),
       CASE WHEN made IS NULL THEN '/materials/' || photo || '/flattenings' ELSE '/materials/' || made END,
       CASE WHEN failure IS NOT NULL THEN 'failed' WHEN ended_at IS NOT NULL THEN 'done' ELSE 'running' END
       FROM flattenings WHERE id = $1
     UNION ALL
     SELECT id, 'sweep', failure, NULL, '/sweeps/' || id,
       CASE WHEN failure IS NOT NULL THEN 'failed' WHEN removed IS NOT NULL OR (found IS NOT NULL AND agreed_at IS NULL) THEN 'done'
            ELSE 'running' END
       FROM sweeps WHERE id = $1
     UNION ALL
     SELECT id, 'change', failure,
       (SELECT jsonb_build_object('done', count(*) FILTER (WHERE i.state <> CASE c.state WHEN 'undoing' THEN 'changed' ELSE 'waiting' END),
          'total', count(*), 'what', 'Changing') FROM bulk_change_items i WHERE i.change = c.id),
       '/changes/' || id,
       CASE WHEN failure IS NOT NULL THEN 'failed' WHEN state IN ('done', 'undone') THEN 'done' ELSE 'running' END
       FROM bulk_changes c WHERE id = $1
     UNION ALL
     SELECT id, 'colors', failure,
       (SELECT jsonb_build_object('done', count(*) FILTER (WHERE i.state <> 'waiting'), 'total', count(*), 'what', 'Making colours')
          FROM color_list_items i WHERE i.list = l.id),
       '/lines/imports/' || id,
       CASE WHEN failure IS NOT NULL THEN 'failed' WHEN state IN ('read', 'done', 'undone') THEN 'done' ELSE 'running' END
       FROM color_lists l WHERE id = $1
     UNION ALL
     SELECT id, 'remake', failure,
       jsonb_build_object(
         'done', (SELECT count(*) FROM remake_items i WHERE i.remake = r.id AND i.state <> 'waiting')
           + (SELECT count(*) FROM remake_materials m WHERE m.remake = r.id AND m.is_judged),
         'total', (SELECT count(*) FROM remake_items i WHERE i.remake = r.id) + (SELECT count(*) FROM remake_materials m WHERE m.remake = r.id),
         'what', CASE WHEN judges THEN 'Judging again' ELSE 'Making pictures' END),
       '/remakes/' || id,
       CASE WHEN failure IS NOT NULL THEN 'failed' WHEN stopped_by IS NOT NULL THEN 'cancelled' WHEN done_at IS NOT NULL THEN 'done' ELSE 'running' END
       FROM remakes r WHERE id = $1`,
    [id],
  );
