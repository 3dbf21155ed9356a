import type { IncomingMessage } from "node:http";
import { plainLine } from "#core/text/plainText";
import type { Person } from "#server/auth/person";
import { database, inTransaction } from "#server/db/database";
import { announce } from "#server/events/events";
import { MOST_PICTURE_BYTES } from "#server/http/bodies";
import { receiveBody } from "#server/http/receiveBody";
import { studyFile } from "#server/images/studyFile";
import { checkDayLimit } from "#server/intake/receiving/dayLimit";
import { addJob } from "#server/jobs/queue";
import { endSought, findSought, hasFigures, insertSought, type SoughtRow } from "#server/sought/sql";
import { insertFile } from "#server/store/sql";

/** What one picture may cost to be read. */
const LIMITS = { seconds: 60, mebibytes: 2048 };

/**
 * Keeps a picture to look for the like of: the body of a request. Materials are found by it once the worker has read it.
 * @throws {Problem} 413 where it is too large
 */
export async function handInSought(
  request: IncomingMessage,
  name: string,
  person: Person,
): Promise<SoughtRow> {
  await checkDayLimit(person.id, Number(request.headers["content-length"] ?? 0));
  const kept = await receiveBody(request, { most: MOST_PICTURE_BYTES, what: "A picture" });
  return inTransaction(async (db) => {
    await insertFile(db, { ...kept, mediaType: "application/octet-stream" });
    const made = await insertSought(db, {
      ...{ sha256: kept.sha256, bytes: kept.bytes, person: person.id },
      name: plainLine(name).trim().slice(0, 200) || "a picture",
    });
    if (made.state === "reading") await addJob(db, "read-sought", { sought: made.id });
    return made;
  });
}

/** Reads what was handed in. Run by the worker; @throws where it is no picture */
export async function readSought(id: string): Promise<void> {
  const sought = await findSought(database(), id);
  if (sought?.state !== "reading") return;
  await studyFile(sought.sha256, LIMITS);
  const isBare = !(await hasFigures(database(), sought.sha256));
  await settle(id, isBare ? "There is nothing in it but one colour. Search by that colour." : null);
}

/** Says why nothing can be found by a picture. */
export const failSought = (id: string, reason: string): Promise<void> => settle(id, reason);

async function settle(id: string, failure: string | null): Promise<void> {
  await inTransaction(async (db) => {
    await endSought(db, id, failure);
    await announce(db, { topic: "library", id });
  });
}
