import pg from "pg";
import { z } from "zod";
import { type Db, database } from "#server/db/database";
import { eventSchema, type StudioEvent } from "#server/events/event";
import { findProgress } from "#server/events/progress";
import { fillLater } from "#server/jobs/fillLater";
import { log } from "#server/log";
import { settings } from "#server/settings";

const CHANNEL = "kalonomy";

/** What goes through the database: no text of anybody's, since a notification holds 8,000 bytes and no more. */
const noteSchema = eventSchema.omit({ progress: true }).extend({
  /** Only how far it is has changed. */
  step: z.literal(true).optional(),
});

type Note = z.infer<typeof noteSchema>;

/** Tells every process; inside a transaction, once it is committed. What follows from a change of the library is queued with it. */
export async function announce(db: Db, event: Omit<Note, "step">): Promise<void> {
  if (event.topic === "library") await fillLater(db);
  await db.query("SELECT pg_notify($1, $2)", [CHANNEL, JSON.stringify(event)]);
}

/** Tells every process that some work is further than it was; who listens reads how far. */
export async function announceStep(db: Db, event: Omit<Note, "step">): Promise<void> {
  await db.query("SELECT pg_notify($1, $2)", [CHANNEL, JSON.stringify({ ...event, step: true })]);
}

/** How often a screen that follows some work without a progress of its own is told that it is further. */
const PACE_MS = 2000;

/** The same work, done no oftener than screens need to hear of it: what comes sooner is left out. */
export function paced(work: () => Promise<void>): () => Promise<void> {
  let last = -Infinity;
  return async () => {
    if (performance.now() - last < PACE_MS) return;
    last = performance.now();
    await work();
  };
}

export interface Listener {
  heard(event: StudioEvent): void;
  /** Whether it is to hear how far some work is; what else happens it hears anyway. */
  follows(work: Pick<StudioEvent, "topic" | "id">): boolean;
  /** The line to the database was down for a while: what happened meanwhile was heard by nobody. */
  missed(): void;
}

const listeners = new Set<Listener>();

let listening: Promise<void> | undefined;

/** Calls back for every event until the returned function is called. */
export async function listen(listener: Listener): Promise<() => void> {
  await (listening ??= connect().catch((error: unknown) => {
    listening = undefined;
    throw error;
  }));
  listeners.add(listener);
  return () => void listeners.delete(listener);
}

/** Steps that were heard and are about to be read; many of one subject are read once. */
const steps = new Map<string, NodeJS.Timeout>();

/** The more browsers follow some work, the less often each is told how far it is. */
const STEP_MS = 150;
const STEP_MS_EACH = 10;
const MOST_STEP_MS = 2000;

/** How long steps of one subject are gathered for so many who follow it, in ms. */
export const gatheredFor = (followers: number): number =>
  Math.min(MOST_STEP_MS, STEP_MS + STEP_MS_EACH * followers);

function hear(payload: string | undefined): void {
  if (listeners.size === 0) return;
  const read = noteSchema.safeParse(JSON.parse(payload ?? "null"));
  if (!read.success) return;
  const { step, ...event } = read.data;
  const { topic, id } = event;
  if (!step || topic === "library" || topic === "upkeep" || topic === "people" || topic === "change")
    return tell(event, [...listeners]);
  const key = `${topic} ${id}`;
  const followers = () => [...listeners].filter((listener) => listener.follows(event));
  const { length } = followers();
  if (length === 0 || steps.has(key)) return;
  const tellStep = () => {
    steps.delete(key);
    findProgress(database(), topic, id)
      .then((progress) => progress && tell({ ...event, progress }, followers()))
      .catch((error: Error) => log.warn({ err: error }, "progress"));
  };
  steps.set(key, setTimeout(tellStep, gatheredFor(length)));
}

function tell(event: StudioEvent, to: Listener[]): void {
  for (const listener of to) listener.heard(event);
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
    again.then(() => {
      for (const listener of [...listeners]) listener.missed();
    }, comeBack);
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
