import { actingFor } from "#server/actor";
import { KINDS } from "#server/change/kinds";
import { findChangeWork, lockNextItem, type WorkItem } from "#server/change/queries";
import { breakOffChange, endChange, noteChanged, noteItem } from "#server/change/writes";
import { database, inTransaction, type Db } from "#server/db/database";
import { announce, paced } from "#server/events/events";
import { overtaken } from "#server/jobs/overtaken";
import { lockMaterial } from "#server/material/queries";
import { notFound, Problem } from "#server/problem";

type Work = NonNullable<Awaited<ReturnType<typeof findChangeWork>>>;

/**
 * Changes the materials of an act, or takes that back, each in a transaction of its own: what is broken off goes on where it was.
 */
export async function runChange(id: string): Promise<void> {
  const work = await findChangeWork(database(), id);
  if (!work || (work.state !== "running" && work.state !== "undoing")) return;
  const tell = paced(() => announce(database(), { topic: "change", id }));
  const { state } = work;
  const next = state === "undoing" ? undoNext : changeNext;
  const person = state === "undoing" ? work.undoneBy! : work.madeBy;
  while (await actingFor(person.id, () => inTransaction((db) => next(db, id, work)))) await tell();
  await end(id, (db) => endChange(db, id, state));
}

/** What had been changed stays, and can be taken back. */
export const failChange = (id: string, reason: string) => end(id, (db) => breakOffChange(db, id, reason));

/** What is over tells everybody: the screens, and what is kept up to date. */
async function end(id: string, say: (db: Db) => Promise<void>): Promise<void> {
  await inTransaction(async (db) => {
    await say(db);
    await overtaken(db);
    await announce(db, { topic: "change", id });
    await announce(db, { topic: "library", id });
  });
}

async function changeNext(db: Db, id: string, work: Work): Promise<boolean> {
  const item = await lockNextItem(db, id, "waiting");
  if (!item) return false;
  await orRefused(
    db,
    async () => noteChanged(db, id, item.place, await changeOne(db, work, item)),
    (reason) => noteItem(db, id, item.place, "refused", reason),
  );
  return true;
}

/** @returns undefined where it was so already. @throws {Problem} where it cannot be */
export async function changeOne(
  db: Db,
  { kind, asked, madeBy }: Pick<Work, "kind" | "asked" | "madeBy">,
  item: Pick<WorkItem, "material" | "place" | "asked">,
) {
  const material = await lockMaterial(db, item.material);
  if (!material) throw notFound("material");
  const own = kind === "facts" ? asked.facts : (item.asked ?? asked);
  return KINDS[kind].apply(db, material, own, { person: madeBy, place: item.place });
}

const CHANGED_SINCE = "It has been changed since, and is left as it is.";

async function undoNext(db: Db, id: string, { kind, undoneBy }: Work): Promise<boolean> {
  const item = await lockNextItem(db, id, "changed");
  if (!item) return false;
  const material = await lockMaterial(db, item.material);
  const changed = { before: item.before!, after: item.after! };
  const isThere = kind === "delete" || material !== undefined;
  const keep = (reason: string) => noteItem(db, id, item.place, "kept", reason);
  await orRefused(
    db,
    async () => {
      if (!isThere) await keep("It has been taken out of the library since.");
      else if (await KINDS[kind].undo(db, item.material, changed, undoneBy!))
        await noteItem(db, id, item.place, "undone", null);
      else await keep(CHANGED_SINCE);
    },
    keep,
  );
  return true;
}

/** One that cannot be done holds up none of the rest, and leaves nothing half done. */
export async function orRefused<T>(
  db: Db,
  work: () => Promise<T>,
  refuse: (reason: string) => Promise<T>,
): Promise<T> {
  await db.query("SAVEPOINT one");
  try {
    return await work();
  } catch (error) {
    if (!(error instanceof Problem)) throw error;
    await db.query("ROLLBACK TO SAVEPOINT one");
    return refuse(error.detail);
  }
}
