import { z } from "zod";
import { call, type Call } from "#server/http/api/call";
import { database } from "#server/db/database";
import { findJob, jobSchema } from "#server/upkeep/findJob";
import { findSweep, type SweepRow } from "#server/upkeep/sweeps";
import { notFound } from "#server/problem";
import { readUpkeep } from "#server/upkeep/readUpkeep";
import { agree, startSweep } from "#server/upkeep/sweep";

const sweepShape = z.object({
  id: z.string(),
  state: z.enum(["looking", "found", "removing", "removed", "failed"]),
  found: z
    .array(z.object({ path: z.string(), bytes: z.number(), why: z.enum(["unknown", "derived", "incoming"]) }))
    .nullable(),
  removed: z.object({ files: z.number(), bytes: z.number() }).nullable(),
  failure: z.string().nullable(),
});

function sweepAnswer({ id, found, agreed_at, removed, failure }: SweepRow) {
  const state = failure
    ? ("failed" as const)
    : removed
      ? ("removed" as const)
      : agreed_at
        ? ("removing" as const)
        : found
          ? ("found" as const)
          : ("looking" as const);
  return { id, state, found, removed, failure };
}

async function readSweep(id: string) {
  const sweep = await findSweep(database(), id);
  if (!sweep) throw notFound("sweep");
  return sweepAnswer(sweep);
}

const count = z.number().int();

/** What runs, and what a keeper looks after. */
export const UPKEEP_CALLS: Call[] = [
  call({
    method: "get",
    path: "/jobs/:id",
    summary: "How far an act is that runs as a job, by the id that asking for it gave",
    status: 200,
    answer: jobSchema,
    async handle({ params }) {
      const job = await findJob(database(), params.id);
      if (!job) throw notFound("job");
      return job;
    },
  }),
  call({
    method: "get",
    path: "/upkeep",
    summary: "The queue, the workers, the disk, and what failed with its reason",
    status: 200,
    answer: z.object({
      queue: z.array(z.object({ kind: z.string(), waiting: count, running: count, failed: count })),
      workers: z.array(z.object({ id: z.string(), seenAt: z.iso.datetime() })),
      failures: z.array(
        z.object({
          what: z.string(),
          id: z.string(),
          subject: z.string(),
          at: z.iso.datetime(),
          reason: z.string(),
        }),
      ),
      guessed: z.array(
        z.object({ account: z.string(), times: count, addresses: count, last: z.iso.datetime() }),
      ),
      databaseBytes: count,
      files: count,
      fileBytes: count,
      disk: z.object({ freeBytes: z.number(), bytes: z.number() }),
    }),
    handle: readUpkeep,
  }),
  call({
    method: "post",
    path: "/sweeps",
    summary: "Look for files that nothing refers to; nothing is removed before /sweeps/:id/remove",
    status: 202,
    answer: sweepShape,
    handle: async ({ person }) => readSweep(await startSweep(person)),
  }),
  call({
    method: "get",
    path: "/sweeps/:id",
    summary: "What a sweep has found or removed",
    status: 200,
    answer: sweepShape,
    handle: ({ params }) => readSweep(params.id),
  }),
  call({
    method: "post",
    path: "/sweeps/:id/remove",
    summary: "Remove what a sweep has found and still nothing refers to",
    status: 202,
    answer: sweepShape,
    async handle({ params }) {
      await readSweep(params.id);
      await agree(params.id);
      return readSweep(params.id);
    },
  }),
];
