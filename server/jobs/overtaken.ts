import { z } from "zod";
import { type Db, rows } from "#server/db/database";
import { addJob } from "#server/jobs/queue";

/** Says that what was delivered of a project, or of any, may be out of date: what is kept up to date is delivered again. */
export async function overtaken(db: Db, project: string | null = null): Promise<void> {
  const kept = await rows(
    db,
    z.object({ project: z.string() }),
    "SELECT DISTINCT project FROM kept_destinations WHERE $1::uuid IS NULL OR project = $1",
    [project],
  );
  for (const one of kept) await addJob(db, "keep-up-to-date", { project: one.project });
}
