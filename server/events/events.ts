import { EventEmitter } from "node:events";
import pg from "pg";
import { z } from "zod";
import { type Db, database } from "#server/db/database";
import { eventSchema, type StudioEvent } from "#server/events/event";
import { findProgress } from "#server/events/progress";
import { log } from "#server/log";
import { settings } from "#server/settings";

const CHANNEL = "kalonomy";

/** What goes through the database: no text of anybody's, since a notification holds 8,000 bytes and no more. */
const noteSchema = eventSchema.omit({ progress: true }).extend({
  /** Only how far it is has changed. */
  step: z.literal(true).optional(),
});

type Note = z.infer<typeof noteSchema>;

/** Tells every process; inside a transaction, once it is committed. */
export async function announce(db: Db, event: Omit<Note, "step">): Promise<void> {
  await db.query("SELECT pg_notify($1, $2)", [CHANNEL, JSON.stringify(event)]);
}

/** Tells every process that some work is further than it was; who listens reads how far. */
export async function announceStep(db: Db, event: Omit<Note, "step">): Promise<void> {
  await db.query("SELECT pg_notify($1, $2)", [CHANNEL, JSON.stringify({ ...event, step: true })]);
}

export interface Listener {
  heard(event: StudioEvent): void;
  /** The line to the database was down for a while: what happened meanwhile was heard by nobody. */
  missed(): void;
}

const listeners = new EventEmitter<{ event: [StudioEvent]; missed: [] }>().setMaxListeners(0);

let listening: Promise<void> | undefined;

/** Calls back for every event until the returned function is called. */
export async function listen({ heard, missed }: Listener): Promise<() => void> {
  await (listening ??= connect().catch((error: unknown) => {
    listening = undefined;
    throw error;
  }));
  listeners.on("event", heard);
  listeners.on("missed", missed);
  return () => {
    listeners.off("event", heard);
    listeners.off("missed", missed);
  };
}

/** Steps that were heard and are about to be read; many of one subject are read once. */
const steps = new Map<string, NodeJS.Timeout>();

/** The more browsers listen, the less often each is told how far some work is. */
const STEP_MS = 150;
const STEP_MS_EACH = 10;
const MOST_STEP_MS = 2000;

/** How long steps of one subject are gathered for so many listeners, in ms. */
export const gatheredFor = (listeners: number): number =>
  Math.min(MOST_STEP_MS, STEP_MS + STEP_MS_EACH * listeners);

function hear(payload: string | undefined): void {
  if (listeners.listenerCount("event") === 0) return;
  const read = noteSchema.safeParse(JSON.parse(payload ?? "null"));
  if (!read.success) return;
  const { step, ...event } = read.data;
  const { topic, id } = event;
  if (!step || (topic !== "intake" && topic !== "delivery")) return void listeners.emit("event", event);
  const key = `${topic} ${id}`;
  if (steps.has(key)) return;
  const tell = () => {
    steps.delete(key);
    findProgress(database(), topic, id)
      .then((progress) => progress && listeners.emit("event", { ...event, progress }))
      .catch((error: Error) => log.warn({ err: error }, "progress"));
  };
  steps.set(key, setTimeout(tell, gatheredFor(listeners.listenerCount("event"))));
}

let client: pg.Client | undefined;

let retry: NodeJS.Timeout | undefined;

const RETRY_MS = 2000;

/** A connection that hangs is no better than one that is lost. */
const BEAT_MS = 15_000;

/** One connection a process hears for all its listeners; a lost one comes back. */
async function connect(): Promise<void> {
  const next = new pg.Client({
    connectionString: settings().databaseUrl,
    connectionTimeoutMillis: 5000,
    query_timeout: 10_000,
    keepAlive: true,
  });
  next.on("notification", ({ payload }) => hear(payload));
  const beat = setInterval(() => {
    next.query("SELECT 1").catch(() => lost());
  }, BEAT_MS).unref();
  const lost = () => {
    clearInterval(beat);
    next.end().catch(() => undefined);
    if (client === next) comeBack();
  };
  next.on("error", lost);
  next.on("end", lost);
  client = next;
  try {
    await next.connect();
    await next.query(`LISTEN ${CHANNEL}`);
  } catch (error) {
    client = undefined;
    lost();
    throw error;
  }
}

function comeBack(): void {
  client = undefined;
  clearTimeout(retry);
  retry = setTimeout(() => {
    const again = connect();
    again.then(() => listeners.emit("missed"), comeBack);
    // Whoever comes in the meantime waits for it, and tries anew after a failure.
    listening = again.catch((error: unknown) => {
      listening = undefined;
      throw error;
    });
    listening.catch(() => undefined);
  }, RETRY_MS).unref();
}

export async function closeEvents(): Promise<void> {
  clearTimeout(retry);
  for (const timer of steps.values()) clearTimeout(timer);
  steps.clear();
  const closing = client;
  client = undefined;
  listening = undefined;
  await closing?.end();
}
