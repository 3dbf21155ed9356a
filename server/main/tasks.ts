import { randomUUID } from "node:crypto";
import { z } from "zod";
import { MAP_CHANNELS } from "#core/roles/channel";
import { database, onceDatabaseAnswers, untilDatabase } from "#server/db/database";
import { failChange, runChange } from "#server/change/run";
import { keepUpToDate } from "#server/delivery/keepUpToDate";
import { failCheck, runCheck } from "#server/destination/check";
import { failLinkList, runLinkList } from "#server/links/list";
import { failColorList, readColors } from "#server/colorList/commands";
import { runColors } from "#server/colorList/making";
import { fillCollections } from "#server/collection/filling";
import { judgeStale } from "#server/intake/questions/judgeAgain";
import { setIntakeState } from "#server/intake/writes";
import { failDelivery, runDelivery } from "#server/delivery/run";
import { announce } from "#server/events/events";
import { healPreviews } from "#server/images/healPreviews";
import { readAnew } from "#server/images/readAnew";
import { failAcceptance, runAcceptance } from "#server/intake/acceptance";
import { readLane } from "#server/intake/stages/lanes";
import { countModulesOf, failModules } from "#server/counting/commands";
import { failFlattening, runFlattening } from "#server/flattening/run";
import { drawAsked } from "#server/picture/pictureOf";
import { failMend, runMend } from "#server/mending/run";
import { givenUp } from "#server/jobs/breaks";
import { URGENCY, subjectKey, type Jobs } from "#server/jobs/queue";
import { log } from "#server/log";
import { inScope } from "#server/scope";
import { diskTrouble, isDatabaseAway, isDiskFull } from "#server/ownFault";
import { failDeliveryProofs, runProofs } from "#server/delivery/proof/run";
import { failCard, makeCard, readCardPicture } from "#server/card/commands";
import { failReference, readReference } from "#server/reference/commands";
import { failSought, readSought } from "#server/sought/commands";
import { failRemake, runRemake } from "#server/remake/remake";
import { isSaid, sentenceOf } from "#server/sentenceOf";
import { failLook, runLook } from "#server/tidy/originals";
import { failSweep } from "#server/upkeep/sweeps";
import { runSweep } from "#server/upkeep/sweep";
import { failFetch, runFetch } from "#server/intake/stages/fetch";
import { proposeNextFamilies } from "#server/material/families";
import { seeMissingColors, seeNextColors } from "#server/material/seenColors";

type Helpers = { job: { id: string; attempts: number; max_attempts: number } };

interface Work<P> {
  /** What failed, in words before the reason. */
  what?: string;
  run(payload: P): Promise<void>;
  /** What becomes of its subject where it fails for good. */
  giveUp?(payload: P, reason: string): Promise<void>;
  /** What will not go better the next time. */
  isHopeless?(error: Error): boolean;
}

const work = <P>(payload: z.ZodType<P>, does: Work<P>) => ({ payload, ...does });
const subject = <K extends string>(name: K) => z.object({ [name]: z.string() } as Record<K, z.ZodString>);
/**
 * For the subject's own screen: what a library says is in the log alone. What the keeper has to put right first is a sentence
 * of its own.
 */
const reasonOf = (error: Error, what?: string) => {
  const disk = diskTrouble(error);
  if (disk !== undefined) return disk;
  return withWhat(
    what,
    sentenceOf(error, "something went wrong in the worker, which is logged. Try it again"),
  );
};
const withWhat = (what: string | undefined, reason: string) =>
  what === undefined ? reason : `${what}: ${reason}`;
/** A name, since errors come from other threads as copies. */
const named = (name: string) => (error: Error) => error.name === name;

/** What is done for each kind of job. */
const WORK = {
  "accept-candidates": work(subject("acceptance"), {
    run: ({ acceptance }) => runAcceptance(acceptance),
    giveUp: ({ acceptance }, detail) =>
      failAcceptance(acceptance, { status: 500, title: "Not accepted", detail }),
    isHopeless: isDiskFull,
  }),
  "change-many": work(subject("change"), {
    what: "It was not done for all",
    run: ({ change }) => runChange(change),
    giveUp: ({ change }, reason) => failChange(change, reason),
    isHopeless: isDiskFull,
  }),
  "heal-previews": work(z.object({ sha256: z.string(), channel: z.enum(MAP_CHANNELS) }), {
    run: ({ sha256, channel }) => healPreviews(sha256, channel),
  }),
  "count-modules": work(subject("material"), {
    run: ({ material }) => countModulesOf(material),
    giveUp: ({ material }) => failModules(material),
  }),
  "draw-picture": work(z.object({ recipe: z.string(), asked: z.string() }), {
    run: ({ recipe, asked }) => drawAsked(recipe, asked),
    isHopeless: named("Refusal"),
  }),
  "check-destination": work(subject("check"), {
    run: ({ check }) => runCheck(check),
    giveUp: ({ check }, reason) => failCheck(check, reason),
    isHopeless: named("Refusal"),
  }),
  "check-links": work(subject("list"), {
    what: "The list cannot be checked",
    run: ({ list }) => runLinkList(list),
    giveUp: ({ list }, reason) => failLinkList(list, reason),
    isHopeless: (error) => isSaid(error) || isDiskFull(error),
  }),
  "fill-collections": work(subject("turn"), { run: fillCollections }),
  "judge-again": work(subject("intake"), { run: ({ intake }) => judgeStale(intake) }),
  "keep-up-to-date": work(subject("project"), {
    run: ({ project }) => keepUpToDate(project),
  }),
  "fetch-products": work(subject("intake"), {
    what: "The fetch failed",
    run: ({ intake }) => runFetch(intake),
    giveUp: ({ intake }, reason) => failFetch(intake, reason),
    isHopeless: isDiskFull,
  }),
  "prove-delivery": work(subject("delivery"), {
    run: ({ delivery }) => runProofs(delivery),
    giveUp: ({ delivery }, reason) => failDeliveryProofs(delivery, reason),
    isHopeless: isDiskFull,
  }),
  "read-anew": work(subject("after"), {
    async run({ after }) {
      await readAnew(after);
      await seeMissingColors(database());
    },
  }),
  "propose-families": work(subject("turn"), { run: ({ turn }) => proposeNextFamilies(turn) }),
  "see-colors": work(subject("turn"), { run: ({ turn }) => seeNextColors(turn) }),
  "read-intake": work(z.object({ intake: z.string(), lane: z.number().default(0) }), {
    what: "The reading failed",
    run: ({ intake, lane }) => readLane(intake, lane),
    async giveUp({ intake }, reason) {
      await setIntakeState(database(), intake, "failed", reason);
      await announce(database(), { topic: "intake", id: intake, state: "failed" });
    },
    isHopeless: isDiskFull,
  }),
  "look-for-originals": work(subject("look"), {
    what: "Not all were looked for",
    run: ({ look }) => runLook(look),
    giveUp: ({ look }, reason) => failLook(look, reason),
  }),
  "make-card": work(subject("card"), {
    what: "It could not be painted",
    run: ({ card }) => makeCard(card),
    giveUp: ({ card }, reason) => failCard(card, reason, null),
    isHopeless: isDiskFull,
  }),
  "make-colors": work(subject("list"), {
    what: "Not all of it was done",
    run: ({ list }) => runColors(list),
    giveUp: ({ list }, reason) => failColorList(list, reason),
    isHopeless: isDiskFull,
  }),
  "read-colors": work(subject("list"), {
    what: "The list cannot be read",
    run: ({ list }) => readColors(list),
    giveUp: ({ list }, reason) => failColorList(list, reason),
    isHopeless: (error) => isSaid(error) || isDiskFull(error),
  }),
  "read-card": work(z.object({ card: z.string(), picture: z.string() }), {
    run: ({ card, picture }) => readCardPicture(card, picture),
    giveUp: ({ card, picture }, reason) => failCard(card, reason, picture),
    isHopeless: (error) => isSaid(error) || isDiskFull(error),
  }),
  "read-reference": work(subject("reference"), {
    what: "It cannot be read as a picture",
    run: ({ reference }) => readReference(reference),
    giveUp: ({ reference }, reason) => failReference(reference, reason),
    isHopeless: (error) => isSaid(error) || isDiskFull(error),
  }),
  "read-sought": work(subject("sought"), {
    what: "It cannot be read as a picture",
    run: ({ sought }) => readSought(sought),
    giveUp: ({ sought }, reason) => failSought(sought, reason),
    isHopeless: (error) => isSaid(error) || isDiskFull(error),
  }),
  "remake-pictures": work(subject("remake"), {
    what: "Not all pictures were made",
    run: ({ remake }) => runRemake(remake),
    giveUp: ({ remake }, reason) => failRemake(remake, reason),
    isHopeless: isDiskFull,
  }),
  "sweep-files": work(subject("sweep"), {
    run: ({ sweep }) => runSweep(sweep),
    giveUp: ({ sweep }, reason) => failSweep(database(), sweep, reason),
  }),
  "mend-material": work(subject("mend"), {
    run: ({ mend }) => runMend(mend),
    giveUp: ({ mend }, reason) => failMend(mend, reason),
    // Maps that do not fit will not fit the next time either.
    isHopeless: named("Refusal"),
  }),
  "flatten-photo": work(subject("flattening"), {
    run: ({ flattening }) => runFlattening(flattening),
    giveUp: ({ flattening }, reason) => failFlattening(flattening, reason),
    // Nor will a region that cannot be flattened.
    isHopeless: named("RegionError"),
  }),
  "run-delivery": work(subject("delivery"), {
    run: ({ delivery }) => runDelivery(delivery),
    giveUp: ({ delivery }, reason) => failDelivery(delivery, reason),
    // A lost original does not come back by itself, nor does a plan that cannot be read.
    isHopeless: named("Refusal"),
  }),
} satisfies { [K in keyof Jobs]: unknown };

type AnyWork = { payload: z.ZodType } & Work<unknown>;

/** A job as the queue hands it out. */
type Task = (payload: unknown, helpers: Helpers) => Promise<void>;

/**
 * What the worker runs: a job that fails is tried again, and after the last try its subject says why. While the database is
 * away a job waits for it and is done anew, which costs it no try.
 */
export const tasks = Object.fromEntries(
  Object.entries(WORK as unknown as Record<string, AnyWork>).map(([kind, work]): [string, Task] => [
    kind,
    async (given, { job }) => {
      const { request } = requestSchema.parse(given);
      const read = work.payload.safeParse(given);
      if (!read.success) {
        // Of another version of this program: trying again does not make it fit.
        log.error({ kind, issues: read.error.issues, request }, "a job that cannot be read is left out");
        return;
      }
      const key = subjectKey(kind as keyof Jobs, read.data as Jobs[keyof Jobs]);
      const giveUp = async () => work.giveUp?.(read.data, withWhat(work.what, BROKEN_OFF));
      if (await onceDatabaseAnswers(() => givenUp(job.id, key, giveUp))) return;
      await carryOut(kind, work, read.data, job, request ?? randomUUID());
    },
  ]),
) as Record<keyof Jobs, Task>;

const BROKEN_OFF = "it was broken off again and again, with the worker that did it";

const requestSchema = z.object({ request: z.string().optional() });

/** An outage may be as long as it will; a job that meets so many of them causes them. */
const MOST_OUTAGES = 50;

async function carryOut(
  kind: string,
  work: AnyWork,
  payload: unknown,
  job: Helpers["job"],
  request: string,
): Promise<void> {
  for (let outages = 0; ; outages++)
    try {
      return await once(kind, request, () => work.run(payload));
    } catch (caught) {
      if (isDatabaseAway(caught) && outages < MOST_OUTAGES) {
        log.warn({ kind, request }, "the database went away under a job, which waits for it");
        await untilDatabase();
        continue;
      }
      const error = caught as Error;
      const hopeless = work.isHopeless?.(error) ?? false;
      // Its subject must not wait for ever because the database went just then.
      if (hopeless || job.attempts >= job.max_attempts)
        await onceDatabaseAnswers(async () => work.giveUp?.(payload, reasonOf(error, work.what)));
      if (!hopeless) throw error;
      return;
    }
}

/** Work with a net under it: what it leaves unawaited, and a stream of its own that errs, ends this work and no other. */
function once(kind: string, request: string, work: () => Promise<void>): Promise<void> {
  return new Promise((resolve, reject) => {
    const isUrgent = URGENCY[kind as keyof Jobs] === "screen";
    inScope({ request, what: `job ${kind}`, isUrgent, end: reject }, () => {
      work().then(resolve, reject);
    });
  });
}
