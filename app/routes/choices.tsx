import { GRADES } from "#core/finish/grades";
import { database } from "#server/db/database";
import { listGrades } from "#server/grade/sql";
import { listLicences } from "#server/licence/queries";
import { listChoices, listSearchChoices } from "#server/material/choices";
import { readStudio } from "#server/studio/sql";
import { look } from "../guard";

/** What something can be given to, and what many can be given, for whoever opens the choice. */
export const loader = look(async () => {
  const db = database();
  const [places, { suppliers, tags }, licences, { nameRule }, own] = await Promise.all([
    listChoices(db),
    listSearchChoices(db, {}),
    listLicences(db),
    readStudio(db),
    listGrades(db),
  ]);
  const grades = [...GRADES, ...own].map(({ name, family }) => ({ name, family }));
  return {
    ...{ ...places, suppliers, tags, nameRule, grades },
    licences: licences.map(({ id, name }) => ({ id, name })),
  };
});
