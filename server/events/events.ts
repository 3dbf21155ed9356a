import { EventEmitter } from "node:events";
import pg from "pg";
import { z } from "zod";
import type { Db } from "#server/db/database";
import { settings } from "#server/settings";

const CHANNEL = "kalonomy";

/** Something that happened to an intake, a delivery or the library, for whoever looks at it. */
export const eventSchema = z.object({
  topic: z.enum(["intake", "delivery", "library"]),
  id: z.string(),
  state: z.string().optional(),
  progress: z.object({ done: z.number(), total: z.number(), what: z.string() }).optional(),
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

/** One connection a process hears for all its listeners, and comes back after a loss. */
async function connect(): Promise<void> {
  const client = new pg.Client({ connectionString: settings().databaseUrl });
  client.on("notification", ({ payload }) => {
    const event = eventSchema.safeParse(JSON.parse(payload ?? "null"));
    if (event.success) emitter.emit("event", event.data);
  });
  client.on("error", () => {
    listening = undefined;
    setTimeout(() => (listening ??= connect().catch(() => (listening = undefined))), 2000).unref();
  });
  await client.connect();
  await client.query(`LISTEN ${CHANNEL}`);
}
