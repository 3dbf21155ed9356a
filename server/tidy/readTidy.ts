import { database } from "#server/db/database";
import { MOST_MERGED } from "#server/tidy/commands";
import {
  listGone,
  listLicencesInTrouble,
  listSameContents,
  listTwinIntakes,
  listUnused,
  newestLook,
} from "#server/tidy/queries";

/** All that there is to tidy. @param days for which nobody has used what counts as unused */
export async function readTidy(days: number) {
  const db = database();
  const [twins, same, unused, licences, gone, looked] = await Promise.all([
    listTwinIntakes(db),
    listSameContents(db),
    listUnused(db, days),
    listLicencesInTrouble(db),
    listGone(db),
    newestLook(db),
  ]);
  return { twins, same, unused, licences, gone, looked: looked ?? null, most: MOST_MERGED };
}
