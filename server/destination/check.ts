import pMap from "p-map";
import { plainLine } from "#core/text/plainText";
import type { Person } from "#server/auth/person";
import { database, inTransaction } from "#server/db/database";
import {
  beginCheck,
  endCheck,
  findCheck,
  insertCheck,
  keepFindings,
  listDelivered,
  type CheckRow,
  type Delivered,
  type Finding,
} from "#server/destination/checkSql";
import type { Place } from "#server/destination/place";
import { findDestination } from "#server/destination/queries";
import { inWords, placeOf } from "#server/destination/writeToDestination";
import { announce, paced } from "#server/events/events";
import { addJob } from "#server/jobs/queue";
import { conflict, notFound } from "#server/problem";
import { settings } from "#server/settings";

/** Of files of somebody else's, so many are named; the rest is counted. */
const MOST_FOREIGN = 2000;
/** How many files are looked at before what was found is kept. */
const AT_ONCE = 200;

/**
 * Begins to look whether everything that was delivered to a destination lies there as it was delivered.
 * @param mends whether what is missing or was changed is written again
 * @throws {Problem} 404, 409 where it is being looked through already
 */
export async function startCheck(destination: string, mends: boolean, person: Person): Promise<CheckRow> {
  const found = await findDestination(database(), destination);
  if (!found) throw notFound("destination");
  return inTransaction(async (db) => {
    const id = await insertCheck(db, { destination: found.id, person: person.id, mends });
    if (id === undefined) throw conflict(`The destination “${found.name}” is being looked through already.`);
    await addJob(db, "check-destination", { check: id });
    await announce(db, { topic: "library", id: found.id });
    return (await findCheck(db, id))!;
  });
}

/** Looks, and writes again where that was asked for. May be run again at any time. @throws {Refusal} where the place cannot be reached */
export async function runCheck(id: string): Promise<void> {
  const check = await findCheck(database(), id);
  if (check?.state !== "looking") return;
  const destination = (await findDestination(database(), check.destination))!;
  const place = placeOf(destination.folder);
  const ours = await listDelivered(database(), destination.id);
  await beginCheck(database(), id, ours.length);
  const tell = () => announce(database(), { topic: "library", id: destination.id });
  const tellOfStep = paced(tell);
  await inWords(destination.name, place, "and check it again.", async () => {
    // Where nothing was delivered yet, there may be no folder either.
    if (ours.length === 0) return;
    const { present, strangers, foreign } = await whatLies(place, new Set(ours.map(({ path }) => path)));
    for (let at = 0; at < ours.length; at += AT_ONCE) {
      const some = ours.slice(at, at + AT_ONCE);
      const findings = await pMap(some, (file) => look(place, file, present.has(file.path), check.mends), {
        concurrency: settings().threads,
      });
      await keepFindings(database(), id, {
        findings: findings.filter((one) => one !== undefined),
        lookedAt: at + some.length,
        foreign,
      });
      await tellOfStep();
    }
    await keepFindings(database(), id, { findings: strangers, lookedAt: ours.length, foreign });
  });
  await endCheck(database(), id, null);
  await tell();
}

export async function failCheck(id: string, reason: string): Promise<void> {
  await endCheck(database(), id, reason);
  const check = await findCheck(database(), id);
  if (check) await announce(database(), { topic: "library", id: check.destination });
}

async function look(
  place: Place,
  { path, sha256 }: Delivered,
  isThere: boolean,
  mends: boolean,
): Promise<Finding | undefined> {
  const hash = isThere ? await place.hashAt(path) : undefined;
  if (hash === sha256) return undefined;
  if (mends) await place.put(path, sha256);
  return { path, state: isThere ? "changed" : "missing", isWritten: mends };
}

/** Which of ours are there at all, and what else is. */
async function whatLies(place: Place, ours: Set<string>) {
  const present = new Set<string>();
  const strangers = new Map<string, Finding>();
  let foreign = 0;
  for await (const path of place.list())
    if (ours.has(path)) present.add(path);
    else {
      foreign++;
      // A name on a disk may be anything: it is only shown.
      const shown = plainLine(path);
      if (strangers.size < MOST_FOREIGN)
        strangers.set(shown, { path: shown, state: "foreign", isWritten: false });
    }
  return { present, strangers: [...strangers.values()], foreign };
}
