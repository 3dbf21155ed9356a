import type { IncomingMessage } from "node:http";
import { mkdir } from "node:fs/promises";
import { join } from "node:path";
import { Readable } from "node:stream";
import { csvRow } from "#core/text/csvRow";
import { plainLine } from "#core/text/plainText";
import type { Person } from "#server/auth/person";
import { database, inTransaction } from "#server/db/database";
import { announce, paced } from "#server/events/events";
import { MOST_LIST_BYTES } from "#server/http/bodies";
import { receiveBody } from "#server/http/receiveBody";
import { checkDayLimit } from "#server/intake/receiving/dayLimit";
import { addJob } from "#server/jobs/queue";
import { checkLinks, LINK_STATES, type CheckedLink, type LinkState } from "#server/links/checkLinks";
import {
  deleteLinkList,
  failLinkList as setFailed,
  fileOfLinkList,
  findLinkList,
  insertLinkList,
  noteLinks,
  setLinks,
  type LinkListRow,
} from "#server/links/listSql";
import { copyFinder } from "#server/links/copies";
import type { FoundLinks } from "#server/opening/findLinks";
import { linesOf } from "#server/opening/linesOf";
import { pool } from "#server/pool/pool";
import { badField, notFound } from "#server/problem";
import { insertFile } from "#server/store/sql";
import { fileStore } from "#server/store/store";

const LIMITS = { seconds: 120, mebibytes: 1536 };
const AT_ONCE = 5000;
/** Of each state, so many stand on the screen; the table has all. */
const SHOWN = 200;

/**
 * Keeps a list of paths, or a scene that names them: the body of a request. The worker reads it.
 * @throws {Problem} 413 where it is too large, 422 where it has no name
 */
export async function handInLinkList(
  name: string,
  request: IncomingMessage,
  person: Person,
): Promise<LinkListRow> {
  const plain = plainLine(name, 200).trim();
  if (!plain) throw badField("/name", "Say what the file is called: by its extension it is told what it is.");
  await checkDayLimit(person.id, Number(request.headers["content-length"] ?? 0));
  const kept = await receiveBody(request, { most: MOST_LIST_BYTES, what: "A list" });
  return inTransaction(async (db) => {
    await insertFile(db, { ...kept, mediaType: "application/octet-stream" });
    const id = await insertLinkList(db, { ...kept, name: plain, person: person.id });
    await addJob(db, "check-links", { list: id });
    await announce(db, { topic: "library", id });
    return (await findLinkList(db, id))!;
  });
}

/** Looks for all paths of a list. Run by the worker, and may be run again. @throws {Refusal} where it names none */
export async function runLinkList(id: string): Promise<void> {
  const list = await findLinkList(database(), id);
  const file = await fileOfLinkList(database(), id);
  if (list?.state !== "reading" || file === undefined) return;
  const first = new Map<LinkState, CheckedLink[]>(LINK_STATES.map((state) => [state, []]));
  const counts: Partial<Record<LinkState, number>> = {};
  const noted = (checked: CheckedLink[]) => {
    for (const link of checked) {
      counts[link.state] = (counts[link.state] ?? 0) + 1;
      const shown = first.get(link.state)!;
      if (shown.length < SHOWN) shown.push(link);
    }
  };
  const result = await fileStore().collect(async (root, incoming) => {
    await mkdir(join(root, incoming), { recursive: true });
    const lines = join(root, incoming, "links");
    const read = await fileStore().withLocal([file], (pathOf) =>
      pool.findLinks({ path: pathOf(file), name: list.name, to: lines }, LIMITS),
    );
    return fileStore().keep(Readable.from(table(id, lines, read, noted)));
  });
  await inTransaction(async (db) => {
    await insertFile(db, { ...result, mediaType: "text/csv" });
    await setLinks(db, id, {
      counts,
      // What is to be done something about comes first.
      first: LINK_STATES.toReversed().flatMap((state) => first.get(state)!),
      result: result.sha256,
    });
    await announce(db, { topic: "library", id });
  });
}

/** What became of each path, as a table, while it is found out. */
async function* table(
  id: string,
  lines: string,
  { found, leftOut }: FoundLinks,
  noted: (checked: CheckedLink[]) => void,
): AsyncGenerator<string> {
  yield `\uFEFF${csvRow(["path", "state", "destination", "now"])}`;
  let lookedAt = 0;
  const withCopies = copyFinder();
  const tell = paced(() => announce(database(), { topic: "library", id }));
  for await (const some of inChunks(lines)) {
    const checked = await withCopies(await checkLinks(some));
    noted(checked);
    lookedAt += some.length;
    await noteLinks(database(), id, { found, lookedAt, leftOut });
    await tell();
    yield checked
      .map(({ path, state, destination, now }) => csvRow([path, state, destination ?? "", now ?? ""]))
      .join("");
  }
}

async function* inChunks(path: string): AsyncGenerator<string[]> {
  let some: string[] = [];
  for await (const line of linesOf(path, { encoding: "utf-8", longest: Infinity })) {
    some.push(line);
    if (some.length < AT_ONCE) continue;
    yield some;
    some = [];
  }
  if (some.length > 0) yield some;
}

export async function failLinkList(id: string, reason: string): Promise<void> {
  await inTransaction(async (db) => {
    await setFailed(db, id, reason);
    await announce(db, { topic: "library", id });
  });
}

/** @throws {Problem} 404 */
export async function removeLinkList(id: string): Promise<void> {
  await inTransaction(async (db) => {
    if (!(await deleteLinkList(db, id))) throw notFound("list");
    await announce(db, { topic: "library", id });
  });
}
