import pMap from "p-map";
import { isColorRole } from "#core/roles/roles";
import type { Person } from "#server/auth/person";
import { UNDO_DAYS } from "#server/change/queries";
import { database, inTransaction, type Db } from "#server/db/database";
import { announce, paced } from "#server/events/events";
import { findImage } from "#server/images/queries";
import { keepPreviews, OWN_LIMITS, studyAnew } from "#server/images/studyFile";
import { addJob } from "#server/jobs/queue";
import { log } from "#server/log";
import { isDatabaseAway, isDiskFull } from "#server/ownFault";
import { badField, conflict, notFound } from "#server/problem";
import {
  endRemake,
  findRemake,
  insertRemake,
  isGoing,
  newestRemake,
  nextItems,
  nextToJudge,
  noteRemade,
  putBackFindings,
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
    const going = await eachWhileGoing(id, items, async (item) =>
      noteRemade(database(), id, item, await makeOne(item, judges)),
    );
    if (!going) return;
    await tell();
  }
  for (;;) {
    const materials = await nextToJudge(database(), id, AT_ONCE);
    if (materials.length === 0) break;
    if (!(await eachWhileGoing(id, materials, (material) => judgeMaterialAgain(id, material)))) return;
    await tell();
  }
  await inTransaction(async (db) => {
    await endRemake(db, id);
    await announce(db, { topic: "upkeep", id });
    await announce(db, { topic: "library", id });
  });
}

/** @returns whether nobody has stopped the run meanwhile */
async function eachWhileGoing<T>(id: string, items: T[], see: (item: T) => Promise<void>): Promise<boolean> {
  let going = true;
  const seeIfGoing = async (item: T) => {
    going &&= await isGoing(database(), id);
    if (going) await see(item);
  };
  await pMap(items, seeIfGoing, { concurrency: settings().threads });
  return going;
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

/** Ends a run where it is: what was made and judged stays. @throws {Problem} where it has ended */
export async function stopRemake(id: string, person: Person): Promise<Remake> {
  return inTransaction(async (db) => {
    if (!(await endRemake(db, id, { stoppedBy: person.id }))) throw await notGoing(db, id);
    await announce(db, { topic: "upkeep", id });
    await announce(db, { topic: "library", id });
    return (await findRemake(db, id))!;
  });
}

const notGoing = async (db: Db, id: string) =>
  (await findRemake(db, id)) ? conflict("It has ended already.") : notFound("run");

/**
 * Says of materials again what was said before a run judged them. What was read of their files stays, so that judging them once more
 * comes to the same. @throws {Problem} where it said nothing otherwise, is too old, or goes on
 */
export async function undoRemake(id: string): Promise<Remake> {
  return inTransaction(async (db) => {
    await db.query("SELECT FROM remakes WHERE id = $1 FOR UPDATE", [id]);
    const remake = await findRemake(db, id);
    if (!remake) throw notFound("run");
    if (!remake.mayUndo) throw conflict(whyNot(remake));
    await putBackFindings(db, id);
    await announce(db, { topic: "upkeep", id });
    await announce(db, { topic: "library", id });
    return (await findRemake(db, id))!;
  });
}

function whyNot({ doneAt, undoneAt, otherwise }: Remake): string {
  if (doneAt === null) return "It goes on still. Stop it first.";
  if (undoneAt !== null) return "It has been taken back already.";
  if (otherwise.length === 0) return "It said of each what was said before: there is nothing to take back.";
  return `It is older than ${UNDO_DAYS} days, or was judged before that could be taken back.`;
}

export async function failRemake(id: string, reason: string): Promise<void> {
  await endRemake(database(), id, { failure: reason });
  await announce(database(), { topic: "upkeep", id });
}
