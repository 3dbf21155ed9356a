import type { Db } from "#server/db/database";
import { currentScope } from "#server/scope";

/** The kinds of long work, and what each needs to know. */
export interface Jobs {
  "accept-candidates": { acceptance: string };
  "change-many": { change: string };
  "check-destination": { check: string };
  "check-links": { list: string };
  "count-modules": { material: string };
  /** What is asked for lies beside it as JSON: the queue need not know it. */
  "draw-picture": { recipe: string; asked: string };
  "fetch-products": { intake: string };
  "fill-collections": { turn: string };
  "look-for-originals": { look: string };
  "make-card": { card: string };
  "make-colors": { list: string };
  "heal-previews": { sha256: string; channel: string };
  "judge-again": { intake: string };
  "keep-up-to-date": { project: string };
  "prove-delivery": { delivery: string };
  "read-anew": { after: string };
  /** One of several lanes that read an intake together. */
  "read-intake": { intake: string; lane: number };
  /** What has been handed in since then has a job of its own. */
  "read-card": { card: string; picture: string };
  "read-colors": { list: string };
  "read-reference": { reference: string };
  "read-sought": { sought: string };
  "remake-pictures": { remake: string };
  "run-delivery": { delivery: string };
  "flatten-photo": { flattening: string };
  /** Of materials that were saved before anybody could say their colours: so many, and then the rest. */
  "see-colors": { turn: string };
  "propose-families": { turn: string };
  "mend-material": { mend: string };
  "sweep-files": { sweep: string };
}

/** Who waits for a kind of job: somebody at their screen, nobody just now, or nobody at all. */
export const URGENCY: Record<keyof Jobs, "screen" | "batch" | "upkeep"> = {
  "accept-candidates": "screen",
  "change-many": "screen",
  "check-links": "screen",
  "count-modules": "screen",
  "draw-picture": "screen",
  "flatten-photo": "screen",
  "heal-previews": "screen",
  "judge-again": "screen",
  "make-card": "screen",
  "make-colors": "screen",
  "mend-material": "screen",
  "read-card": "screen",
  "read-colors": "screen",
  "read-reference": "screen",
  "read-sought": "screen",
  "check-destination": "batch",
  "fetch-products": "batch",
  "fill-collections": "batch",
  "keep-up-to-date": "batch",
  "read-intake": "batch",
  "remake-pictures": "batch",
  "run-delivery": "batch",
  // Whoever waits for files goes before.
  "look-for-originals": "upkeep",
  "prove-delivery": "upkeep",
  "read-anew": "upkeep",
  "propose-families": "upkeep",
  "see-colors": "upkeep",
  "sweep-files": "upkeep",
};

/** As the queue has them: what is lower is taken first. */
const PRIORITIES = { screen: -10, batch: 0, upkeep: 10 };

const keyOf = <K extends keyof Jobs>(task: K, payload: Jobs[K]) =>
  // What lies beside the subject may be long, and says nothing that the subject does not.
  [task, ...Object.entries(payload).flatMap(([name, value]) => (name === "asked" ? [] : [value]))].join(":");

/** What the keys of all jobs of a kind begin with that are about the same: what comes first in its payload. */
export const subjectKey = <K extends keyof Jobs>(task: K, payload: Jobs[K]) =>
  `${task}:${Object.values(payload)[0]}`;

/**
 * Puts long work into the queue as part of the caller's transaction, so that it exists exactly if the rest does. One
 * job a subject: asking twice does not run it twice.
 */
export function addJob<K extends keyof Jobs>(db: Db, task: K, payload: Jobs[K]): Promise<void> {
  return queue(db, task, payload, "replace");
}

/** The same, but a job of the subject that is there already, waiting or worked on, is left as it is. */
export function addJobUnlessThere<K extends keyof Jobs>(db: Db, task: K, payload: Jobs[K]): Promise<void> {
  return queue(db, task, payload, "unsafe_dedupe");
}

/** Whether one of some jobs waits its turn; one that is worked on does not. */
export async function isAnyWaiting<K extends keyof Jobs>(
  db: Db,
  task: K,
  payloads: Jobs[K][],
): Promise<boolean> {
  const { rowCount } = await db.query(
    "SELECT FROM graphile_worker.jobs WHERE key = ANY ($1) AND locked_at IS NULL LIMIT 1",
    [payloads.map((payload) => keyOf(task, payload))],
  );
  return rowCount === 1;
}

async function queue<K extends keyof Jobs>(
  db: Db,
  task: K,
  payload: Jobs[K],
  whereThere: "replace" | "unsafe_dedupe",
): Promise<void> {
  await db.query(
    "SELECT graphile_worker.add_job($1, $2, job_key := $3, max_attempts := 4, priority := $4, job_key_mode := $5, queue_name := $6)",
    [
      task,
      // The request that it began with, for the log.
      JSON.stringify({ ...payload, ...(currentScope() && { request: currentScope()!.request }) }),
      keyOf(task, payload),
      PRIORITIES[URGENCY[task]],
      whereThere,
      // One by one, so that a lane is always left for what somebody waits for.
      URGENCY[task] === "upkeep" ? "upkeep" : null,
    ],
  );
}
