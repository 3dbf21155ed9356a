import { EventEmitter } from "node:events";
import pg from "pg";
import { z } from "zod";
import type { Db } from "#server/db/database";
import { settings } from "#server/settings";

const CHANNEL = "kalonomy";

/** Something that happened to an intake, a delivery or the library, for whoever looks at it. */
export const eventSchema = z.object({
  topic: z.enum(["intake", "delivery", "library", "upkeep"]),
  id: z.string(),
  state: z.string().optional(),
  progress: z
    .object({ done: z.number(), total: z.number(), what: z.string(), left: z.number().nullish() })
    .optional(),
});
export type StudioEvent = z.infer<typeof eventSchema>;

/** Tells every process; inside a transaction, once it is committed. */
export async function announce(db: Db, event: StudioEvent): Promise<void> {
  await db.query("SELECT pg_notify($1, $2)", [CHANNEL, JSON.stringify(event)]);
}

const emitter = new EventEmitter().setMaxListeners(0);
let listening: Promise<void> | undefined;

/** Calls back for every event until the returned function is called. */
export async function listen(heard: (event: StudioEvent) => void): Promise<() => void> {
  await (listening ??= connect());
  emitter.on("event", heard);
  return () => emitter.off("event", heard);
}

let client: pg.Client | undefined;
let retry: NodeJS.Timeout | undefined;

/** One connection a process hears for all its listeners; a lost one comes back. */
async function connect(): Promise<void> {
  const next = new pg.Client({ connectionString: settings().databaseUrl });
  next.on("notification", ({ payload }) => {
    const event = eventSchema.safeParse(JSON.parse(payload ?? "null"));
    if (event.success) emitter.emit("event", event.data);
  });
  next.on("error", () => {
    if (client === next) comeBack();
  });
  client = next;
  await next.connect();
  await next.query(`LISTEN ${CHANNEL}`);
}

function comeBack(): void {
  clearTimeout(retry);
  retry = setTimeout(() => {
    listening = connect();
    listening.catch(comeBack);
  }, 2000).unref();
}

export async function closeEvents(): Promise<void> {
  clearTimeout(retry);
  const closing = client;
  client = undefined;
  listening = undefined;
  await closing?.end();
}
