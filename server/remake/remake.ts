import pMap from "p-map";
import { isColorRole } from "#core/roles/roles";
import type { Person } from "#server/auth/person";
import { database, inTransaction } from "#server/db/database";
import { announce, paced } from "#server/events/events";
import { findImage } from "#server/images/queries";
import { keepPreviews, OWN_LIMITS, studyAnew } from "#server/images/studyFile";
import { addJob } from "#server/jobs/queue";
import { log } from "#server/log";
import { isDatabaseAway, isDiskFull } from "#server/ownFault";
import { badField, conflict } from "#server/problem";
import {
  endRemake,
  findRemake,
  insertRemake,
  newestRemake,
  nextItems,
  nextToJudge,
  noteRemade,
  type Remake,
  type RemakeItem,
} from "#server/remake/sql";
import { judgeMaterialAgain } from "#server/remake/judgeMaterialAgain";
import { sentenceOf } from "#server/sentenceOf";
import { settings } from "#server/settings";

/**
 * Has the pictures of materials made again, of all where none are named, one run at a time.
 * @param judges whether the files are read anew as well, and the materials judged by that
 * @throws {Problem} while another one goes on, or where there is nothing to make
 */
export function startRemake(
  materials: string[] | undefined,
  person: Person,
  judges = false,
): Promise<Remake> {
  return inTransaction(async (db) => {
    await db.query("SELECT pg_advisory_xact_lock(hashtext('remake pictures'))");
    const going = await newestRemake(db);
    if (going?.doneAt === null) throw conflict(`Pictures are being made again already, for ${going.madeBy}.`);
    const { id, total } = await insertRemake(db, materials, judges, person.id);
    if (total === 0) throw badField("/materials", "None of them has a picture.");
    await addJob(db, "remake-pictures", { remake: id });
    await announce(db, { topic: "upkeep", id });
    return (await findRemake(db, id))!;
  });
}

const AT_ONCE = 40;

/** Makes them, some at a time: what is broken off goes on where it was, and one that cannot be made holds up none of the rest. */
export async function runRemake(id: string): Promise<void> {
  const judges = (await findRemake(database(), id))?.judges ?? false;
  const tell = paced(() => announce(database(), { topic: "upkeep", id }));
  for (;;) {
    const items = await nextItems(database(), id, AT_ONCE);
    if (items.length === 0) break;
    await pMap(items, async (item) => noteRemade(database(), id, item, await makeOne(item, judges)), {
      concurrency: settings().threads,
    });
    await tell();
  }
  for (;;) {
    const materials = await nextToJudge(database(), id, AT_ONCE);
    if (materials.length === 0) break;
    await pMap(materials, (material) => judgeMaterialAgain(id, material), {
      concurrency: settings().threads,
    });
    await tell();
  }
  await inTransaction(async (db) => {
    await endRemake(db, id, null);
    await announce(db, { topic: "upkeep", id });
    await announce(db, { topic: "library", id });
  });
}

/** @returns why it could not be made, or null */
async function makeOne(
  { sha256, channel, roles, isFirst }: RemakeItem,
  judges: boolean,
): Promise<string | null> {
  const image = await findImage(database(), sha256);
  if (!image) return "It is not known any more.";
  try {
    if (judges && isFirst) await studyAnew(sha256, OWN_LIMITS);
    // A roughness that came in colours is shown as data wherever it is no colour to anybody.
    const isColor = channel === "color" && roles.some((role) => isColorRole(role) || role === "environment");
    const use = isColor ? (image.shown_as ?? "color") : "data";
    await keepPreviews(sha256, image.format, channel, use, OWN_LIMITS);
    return null;
  } catch (error) {
    if (isDatabaseAway(error) || isDiskFull(error as Error)) throw error;
    log.warn({ err: error, sha256 }, "a picture cannot be made again");
    return sentenceOf(error, "Its file cannot be read any more. Look for all originals.");
  }
}

export async function failRemake(id: string, reason: string): Promise<void> {
  await endRemake(database(), id, reason);
  await announce(database(), { topic: "upkeep", id });
}
