import type { IncomingMessage } from "node:http";
import { plainLine } from "#core/text/plainText";
import { placingTrouble } from "#core/picture/reference";
import type { Person } from "#server/auth/person";
import { database, inTransaction } from "#server/db/database";
import { announce } from "#server/events/events";
import { studyFile } from "#server/images/studyFile";
import { checkDayLimit } from "#server/intake/receiving/dayLimit";
import { addJob } from "#server/jobs/queue";
import { mustFindMaterial } from "#server/material/queries";
import { listProfiles } from "#server/profile/sql";
import { badField, conflict, notFound } from "#server/problem";
import { receiveBody } from "#server/http/receiveBody";
import { MOST_PICTURE_BYTES } from "#server/http/bodies";
import {
  countReferences,
  deleteReference,
  endReading,
  findReference,
  findUnread,
  insertReference,
  MOST_REFERENCES,
  updateReference,
  type ReferenceChange,
  type ReferenceRow,
} from "#server/reference/sql";
import { insertFile } from "#server/store/sql";

/** What one picture may cost to be read. */
const LIMITS = { seconds: 60, mebibytes: 2048 };

/**
 * Keeps a picture to judge a material against: the body of a request. It is shown once the worker has read it.
 * @throws {Problem} naming what there is no such thing of, 409 where there are too many, 413 where it is too large
 */
export async function handInReference(
  material: string,
  request: IncomingMessage,
  { name, profile }: { name: string; profile: string | null },
  person: Person,
): Promise<ReferenceRow> {
  await mustFindMaterial(database(), material);
  await checkProfile(profile);
  if ((await countReferences(database(), material)) >= MOST_REFERENCES)
    throw conflict(`A material has up to ${MOST_REFERENCES} pictures beside it. Remove one first.`);
  await checkDayLimit(person.id, Number(request.headers["content-length"] ?? 0));
  const kept = await receiveBody(request, { most: MOST_PICTURE_BYTES, what: "A picture" });
  const id = await inTransaction(async (db) => {
    await insertFile(db, { ...kept, mediaType: "application/octet-stream" });
    const made = await insertReference(db, {
      ...{ material, sha256: kept.sha256, bytes: kept.bytes, profile, person: person.id },
      name: plainLine(name).trim().slice(0, 200) || "Picture",
    });
    await addJob(db, "read-reference", { reference: made });
    await announce(db, { topic: "library", id: material });
    return made;
  });
  return (await findReference(database(), material, id))!;
}

async function checkProfile(profile: string | null | undefined): Promise<void> {
  if (profile && !(await listProfiles(database())).some(({ id }) => id === profile))
    throw badField("/profile", `There is no profile “${profile}”.`);
}

/** Reads what was handed in. Run by the worker; @throws where it is no picture */
export async function readReference(id: string): Promise<void> {
  const unread = await findUnread(database(), id);
  if (!unread) return;
  await studyFile(unread.sha256, LIMITS);
  await settle(id, null);
}

/** Says why a picture cannot be shown. */
export const failReference = (id: string, reason: string): Promise<void> => settle(id, reason);

async function settle(id: string, failure: string | null): Promise<void> {
  await inTransaction(async (db) => {
    const material = await endReading(db, id, failure);
    if (material) await announce(db, { topic: "library", id: material });
  });
}

/** @throws {Problem} 404, or naming what cannot be true of the picture */
export async function changeReference(
  material: string,
  id: string,
  change: ReferenceChange,
): Promise<ReferenceRow> {
  const before = await findReference(database(), material, id);
  if (!before) throw notFound("picture");
  await checkProfile(change.profile);
  if (change.placing) {
    if (before.width === null || before.height === null)
      throw conflict("The picture has not been read yet. Try again in a moment.");
    const trouble = placingTrouble(change.placing, { width: before.width, height: before.height });
    if (trouble) throw badField("/placing", trouble);
  }
  await inTransaction(async (db) => {
    if (!(await updateReference(db, material, id, change))) throw notFound("picture");
    await announce(db, { topic: "library", id: material });
  });
  return (await findReference(database(), material, id))!;
}

export async function removeReference(material: string, id: string): Promise<void> {
  await inTransaction(async (db) => {
    if (!(await deleteReference(db, material, id))) throw notFound("picture");
    await announce(db, { topic: "library", id: material });
  });
}
