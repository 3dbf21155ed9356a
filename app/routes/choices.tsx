import { database } from "#server/db/database";
import { listLicences } from "#server/licence/queries";
import { listChoices, listSearchChoices } from "#server/material/choices";
import { readStudio } from "#server/studio/sql";
import { look } from "../guard";

/** What something can be given to, and what many can be given, for whoever opens the choice. */
export const loader = look(async () => {
  const db = database();
  const [places, { suppliers, tags }, licences, { nameRule }] = await Promise.all([
    listChoices(db),
    listSearchChoices(db, {}),
    listLicences(db),
    readStudio(db),
  ]);
  return { ...places, suppliers, tags, nameRule, licences: licences.map(({ id, name }) => ({ id, name })) };
});
