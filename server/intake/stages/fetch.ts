import type { Order } from "#core/supply/catalogue";
import type { ProductSheet } from "#core/supply/productSheet";
import { database, inTransaction } from "#server/db/database";
import { announce, announceStep } from "#server/events/events";
import { findIntake } from "#server/intake/queries";
import { insertUpload } from "#server/intake/receiving/sql";
import { lockFetch, setIntakeState, setIntakeProgress } from "#server/intake/writes";
import { addJob } from "#server/jobs/queue";
import { log } from "#server/log";
import { listKept, insertFile } from "#server/store/sql";
import { type SupplierClient, ownSupplierClient, SupplierError } from "#server/supplier/client";

/** Waits before a try that may go better. */
const WAITS_MS = [1000, 4000];

/** What a zip adds to its files, and the sheet. */
const SLACK = 4 * 2 ** 20;

const TOLD_EVERY_MS = 500;

/** How soon it is noticed that somebody has stopped a fetch, whatever the supplier does. */
const WATCHED_EVERY_MS = 1000;

/**
 * Fetches what an intake waits for and hands it on to be read. What the library has already is not fetched again. What
 * the supplier does wrong ends the intake with the reason; nothing is kept of it.
 */
export async function runFetch(
  id: string,
  client: SupplierClient | undefined = ownSupplierClient(),
  waits = WAITS_MS,
): Promise<void> {
  const intake = await findIntake(database(), id);
  if (!intake?.fetch || intake.state !== "receiving") return;
  const stop = new AbortController();
  const watch = setInterval(() => {
    findIntake(database(), id)
      .then((now) => now?.state === "receiving" || stop.abort())
      .catch((error: Error) => log.error({ err: error }, "watch of a fetch"));
  }, WATCHED_EVERY_MS);
  try {
    if (!client) throw new SupplierError("No supplier's service is set up.", false);
    const { order } = intake.fetch;
    const tell = teller(id);
    const products: ProductSheet["products"] = [];
    // One by one, since pictures are made when their list is asked for: so it can be told how far it is.
    for (const part of partsOf(order)) {
      tell(`Asking ${intake.fetch.supplier} for its list`, products.length, order.products.length);
      const sheet = await patiently(waits, tell, () => client.listing(part, stop.signal));
      checkSheet(sheet, part);
      products.push(...sheet.products);
    }
    const files = new Map(products.flatMap(({ files }) => files.map((file) => [file.sha256, file.bytes])));
    const without = (await listKept(database(), [...files.keys()])).map(({ sha256 }) => sha256);
    for (const sha256 of without) files.delete(sha256);
    const most = [...files.values()].reduce((sum, bytes) => sum + bytes, SLACK);
    const kept = await patiently(waits, tell, () =>
      client.fetchPackage(
        { ...order, without },
        most,
        (bytes, total) =>
          tell(`Fetching from ${intake.fetch!.supplier}`, kibibytes(bytes), kibibytes(total ?? most)),
        stop.signal,
      ),
    );
    await inTransaction(async (db) => {
      // Somebody may have stopped it meanwhile.
      if (!(await lockFetch(db, id))) return;
      await insertFile(db, { ...kept, mediaType: "application/zip" });
      await insertUpload(db, id, 0, { name: `${intake.fetch!.line}.zip`, sha256: kept.sha256 });
      await setIntakeState(db, id, "reading");
      await addJob(db, "read-intake", { intake: id, lane: 0 });
      await announce(db, { topic: "intake", id, state: "reading" });
    });
  } catch (error) {
    if (stop.signal.aborted) return;
    if (!(error instanceof SupplierError)) throw error;
    await failFetch(id, error.message);
  } finally {
    clearInterval(watch);
  }
}

const kibibytes = (bytes: number) => Math.round(bytes / 1024);

/** An order variant by variant; colours without pictures cost nothing to list. */
const partsOf = (order: Order): Order[] =>
  order.roles.length === 0 ? [order] : order.products.map((product) => ({ ...order, products: [product] }));

export async function failFetch(id: string, reason: string): Promise<void> {
  await inTransaction(async (db) => {
    if (!(await lockFetch(db, id))) return;
    await setIntakeState(db, id, "failed", reason);
    await announce(db, { topic: "intake", id, state: "failed" });
  });
}

type Tell = (what: string, done: number, total: number) => void;

/** Tells how far it is, twice a second at most. */
function teller(id: string): Tell {
  let told = 0;
  return (what, done, total) => {
    if (Date.now() - told < TOLD_EVERY_MS && done < total) return;
    told = Date.now();
    const progress = { done, total, what };
    const work = async () => {
      await setIntakeProgress(database(), id, progress);
      await announceStep(database(), { topic: "intake", id, state: "receiving" });
    };
    work().catch((error: Error) => log.error({ err: error }, "progress of a fetch"));
  };
}

async function patiently<T>(waits: number[], tell: Tell, work: () => Promise<T>): Promise<T> {
  for (let tries = 0; ; tries++)
    try {
      return await work();
    } catch (error) {
      if (!(error instanceof SupplierError) || !error.passing || tries === waits.length) throw error;
      tell(`${error.message} Trying again`, 0, 0);
      await new Promise((resolve) => setTimeout(resolve, waits[tries]));
    }
}

/** @throws {SupplierError} where the sheet is not the one of the order */
function checkSheet({ products }: ProductSheet, order: Order): void {
  const asked = new Set(order.products.map(({ code }) => code));
  const strange = products.find(({ code }) => !asked.has(code));
  if (strange)
    throw new SupplierError(`The supplier's list has “${strange.code}”, which nobody asked for.`, false);
  const missing = [...asked].filter((code) => !products.some((one) => one.code === code));
  if (missing.length > 0)
    throw new SupplierError(`The supplier's list lacks ${missing.slice(0, 5).join(", ")}.`, false);
}
