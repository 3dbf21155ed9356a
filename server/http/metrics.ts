import cluster from "node:cluster";
import { randomUUID, timingSafeEqual } from "node:crypto";
import { statfs } from "node:fs/promises";
import type { NextFunction, Request, Response } from "express";
import { AggregatorRegistry, Counter, Gauge, Histogram, Registry } from "prom-client";
import { database } from "#server/db/database";
import { jobTimes, listQueue, listWorkers } from "#server/jobs/queries";
import { bodiesInFlight } from "#server/http/bodies";
import { Problem } from "#server/problem";
import { settings } from "#server/settings";

/** What each process counts for itself, and is added up; and what all of them share, which whoever is asked looks up. */
const own = new Registry();
const shared = new Registry();
const at = { registers: [own] };
const ofAll = { registers: [shared] };

const requests = new Histogram({
  ...at,
  name: "kalonomy_request_seconds",
  help: "Time to answer a request, by kind of address and class of status",
  labelNames: ["kind", "status"],
  buckets: [0.005, 0.01, 0.025, 0.05, 0.1, 0.25, 0.5, 1, 2.5, 10],
});
const defects = new Counter({
  ...at,
  name: "kalonomy_defects_total",
  help: "Errors that are nobody's but ours",
});
const queue = new Gauge({
  ...ofAll,
  name: "kalonomy_queue_jobs",
  help: "Jobs in the queue",
  labelNames: ["kind", "state"],
});
const jobs = new Gauge({
  ...ofAll,
  name: "kalonomy_job_seconds",
  help: "Time of the jobs that ended within the last hour: how many, mean, longest",
  labelNames: ["kind", "figure"],
});
const workers = new Gauge({ ...ofAll, name: "kalonomy_workers", help: "Workers that live" });
const pools = new Gauge({
  ...ofAll,
  name: "kalonomy_pool_tasks",
  help: "Tasks in the workers' pools of processes",
  labelNames: ["state"],
});
const disk = new Gauge({
  ...ofAll,
  name: "kalonomy_disk_bytes",
  help: "The data folder's disk",
  labelNames: ["state"],
});
new Gauge({
  ...at,
  name: "kalonomy_database_connections",
  help: "Connections to PostgreSQL",
  labelNames: ["state"],
  collect() {
    const { totalCount, idleCount, waitingCount } = database();
    this.set({ state: "open" }, totalCount);
    this.set({ state: "idle" }, idleCount);
    this.set({ state: "waited_for" }, waitingCount);
  },
});
new Gauge({
  ...at,
  name: "kalonomy_bodies_in_flight",
  help: "Bodies that are on their way",
  collect() {
    this.set(bodiesInFlight());
  },
});
new Gauge({
  ...at,
  name: "kalonomy_memory_bytes",
  help: "Resident memory of the web processes",
  collect() {
    this.set(process.memoryUsage.rss());
  },
});
const up = new Gauge({ ...ofAll, name: "kalonomy_database_up", help: "1 while PostgreSQL answers" });

/** Notes how long an answer took. */
export function noteRequest(path: string, status: number, ms: number): void {
  requests.observe({ kind: kindOf(path), status: `${Math.floor(status / 100)}xx` }, ms / 1000);
}

export const noteDefect = (): void => defects.inc();

/** Few kinds, whatever addresses come. */
function kindOf(path: string): string {
  if (path.startsWith("/api/v1/uploads")) return "upload";
  if (path.startsWith("/api/")) return "api";
  if (/^\/(previews|files)\//.test(path)) return "file";
  if (path.startsWith("/assets/")) return "asset";
  return path.endsWith(".data") ? "data" : "screen";
}

/** The figures in the open text format, for whoever has the token that the settings name. Without one there are none. */
export function metrics(request: Request, response: Response, next: NextFunction): void {
  const { metricsToken } = settings();
  if (metricsToken === undefined) return next();
  const sent = Buffer.from(/^Bearer\s+(\S+)$/i.exec(request.headers.authorization ?? "")?.[1] ?? "");
  const wanted = Buffer.from(metricsToken);
  if (sent.length !== wanted.length || !timingSafeEqual(sent, wanted))
    return next(new Problem(401, "Not allowed", "The figures need their own token."));
  gather()
    .then(async () =>
      response.type(shared.contentType).send(`${await figuresOfAll()}\n${await shared.metrics()}`),
    )
    .catch(next);
}

const ANSWER_MS = 3000;
const asked = new Map<string, (figures: string) => void>();

if (cluster.isWorker) {
  AggregatorRegistry.setRegistries([own]);
  // Answers what its first process asks of each of them.
  new AggregatorRegistry();
  process.on("message", (message: { figuresFor?: string; figures?: string } | null) => {
    if (message?.figuresFor !== undefined) asked.get(message.figuresFor)?.(message.figures ?? "");
  });
}

/** What the processes count for themselves, added up by the first of them; of one process alone its own. */
function figuresOfAll(): Promise<string> {
  if (!cluster.isWorker) return own.metrics();
  const id = randomUUID();
  return new Promise((resolve, reject) => {
    const settle = (figures: string) => {
      clearTimeout(timer);
      asked.delete(id);
      resolve(figures);
    };
    const timer = setTimeout(() => {
      asked.delete(id);
      own.metrics().then(resolve, reject);
    }, ANSWER_MS);
    asked.set(id, settle);
    process.send!({ wantsFigures: id });
  });
}

async function gather(): Promise<void> {
  const { dataFolder } = settings();
  const pool = database();
  const facts = await statfs(dataFolder);
  disk.set({ state: "free" }, facts.bavail * facts.bsize);
  disk.set({ state: "all" }, facts.blocks * facts.bsize);
  try {
    const [kinds, living, times] = await Promise.all([listQueue(pool), listWorkers(pool), jobTimes(pool)]);
    queue.reset();
    for (const { kind, waiting, running, failed } of kinds) {
      queue.set({ kind, state: "waiting" }, waiting);
      queue.set({ kind, state: "running" }, running);
      queue.set({ kind, state: "given_up" }, failed);
    }
    jobs.reset();
    for (const { kind, count, mean, longest } of times) {
      jobs.set({ kind, figure: "count" }, count);
      jobs.set({ kind, figure: "mean" }, mean);
      jobs.set({ kind, figure: "longest" }, longest);
    }
    workers.set(living.length);
    for (const state of ["busy", "waiting"] as const)
      pools.set(
        { state },
        living.reduce((sum, worker) => sum + worker[`pool_${state}`], 0),
      );
    up.set(1);
  } catch {
    up.set(0);
  }
}
