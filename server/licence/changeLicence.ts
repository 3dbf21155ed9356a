import { inTransaction } from "#server/db/database";
import { announce } from "#server/events/events";
import { overtaken } from "#server/jobs/overtaken";
import type { TermsChange } from "#server/licence/terms";
import { updateLicence } from "#server/licence/writes";
import { notFound } from "#server/problem";

/** Changes the terms of a licence for all materials that it covers; what there was stays in its history. @throws {Problem} */
export async function changeLicence(id: string, change: TermsChange): Promise<void> {
  await inTransaction(async (db) => {
    if (!(await updateLicence(db, id, change))) throw notFound("licence");
    await announce(db, { topic: "library", id });
    // An account names whom to credit.
    await overtaken(db);
  });
}
