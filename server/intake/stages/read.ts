import type { IgnoredFile } from "#core/candidates/candidate";
import { groupImages } from "#core/candidates/groupImages";
import { type Db, database, inTransaction } from "#server/db/database";
import { announce, announceStep } from "#server/events/events";
import { findImages } from "#server/images/queries";
import { type ItemLimits, studyFile } from "#server/images/studyFile";
import { findHold, findIntake, type IntakeRow } from "#server/intake/queries";
import { bytesLeftToday } from "#server/intake/receiving/dayLimit";
import { listUploads } from "#server/intake/receiving/sql";
import { listKnownMarks } from "#server/intake/questions/sql";
import type { Found, Unpacked } from "#server/intake/stages/found";
import { intakeImage } from "#server/intake/stages/intakeImage";
import { judgeSet, type SetOutcome, type SetStep } from "#server/intake/stages/judge";
import { shownName } from "#server/intake/stages/shownName";
import {
  clearSteps,
  endOpenSteps,
  endStep,
  giveBack,
  hasOpenSteps,
  listOutcomes,
  putSteps,
  takeStep,
} from "#server/intake/stages/steps";
import { unpack } from "#server/intake/stages/unpack";
import {
  beginStage,
  lockReading,
  noteStep,
  replaceCandidates,
  setIntakeProgress,
  setIntakeState,
  setUnpacked,
  type ReadCandidate,
} from "#server/intake/writes";
import { log } from "#server/log";
import { isOwnFault } from "#server/ownFault";
import type { TaskLimits } from "#server/pool/processPool";
import { isSaid, sentenceOf } from "#server/sentenceOf";
import { settings } from "#server/settings";
import type { VariantSheet } from "#server/supplier/queries";

/** Somebody asked to stop with what there is: what is under way is ended at once. */
class Stopped extends Error {}
const STOPPED = "It was not read: the intake was stopped.";
const UNREADABLE = "It is damaged, or of a kind that cannot be read.";
/** How soon a wish to stop is heard, whatever is being read. */
const WATCHED_EVERY_MS = 1000;
/** After so long a lane lets others have their turn. */
const TURN_MS = 1000;

/** What came of one file. */
interface FileOutcome {
  aside?: string;
}

/**
 * Reads an intake for a while: unpacks it, or studies files and judges sets of it until a turn is over. Several lanes, in as many
 * processes, read one intake together; a lane that was broken off goes on where it was.
 * @returns whether there is more for this lane to do
 */
export async function readOn(id: string, lane: number): Promise<boolean> {
  const stop = new AbortController();
  const watch = setInterval(() => {
    findHold(database(), id)
      .then((hold) => hold === "stop" && stop.abort(new Stopped()))
      .catch((error: Error) => log.warn({ err: error }, "watching an intake"));
  }, WATCHED_EVERY_MS);
  try {
    await giveBack(database(), id, lane);
    const until = Date.now() + TURN_MS;
    for (;;) {
      const intake = await findIntake(database(), id);
      if (!intake || intake.state !== "reading" || intake.hold === "pause") return false;
      if (!(await readStep(intake, lane, stop.signal))) return false;
      if (Date.now() >= until) return true;
    }
  } finally {
    clearInterval(watch);
  }
}

/** Reads an intake to its end, as far as nobody asks it to wait, with as many lanes as there are threads for pixels. */
export async function readIntake(id: string): Promise<void> {
  const readAll = async (lane: number) => {
    while (await readOn(id, lane));
  };
  for (;;) {
    await Promise.all(Array.from({ length: settings().threads }, (_, lane) => readAll(lane)));
    // Somebody else may still have a step of it.
    const intake = await findIntake(database(), id);
    if (!intake || intake.state !== "reading" || intake.hold === "pause") return;
    await new Promise((resolve) => setTimeout(resolve, 20));
  }
}

/** @returns whether there was something to do */
async function readStep(intake: IntakeRow, lane: number, signal: AbortSignal): Promise<boolean> {
  const { id, stage, hold } = intake;
  const limits = { seconds: intake.itemSeconds, mebibytes: intake.itemMib, signal };
  if (stage === "unpack") {
    await unpackAll(intake, limits);
    return true;
  }
  if (hold === "stop") await endOpenSteps(database(), id, stage, { aside: STOPPED, ignored: [] });
  const step = await takeStep(database(), id, stage, lane);
  if (step) {
    const outcome =
      stage === "study"
        ? await study(intake, step.content as Found, limits)
        : await judge(intake, step.content as SetStep, limits);
    await endStep(database(), id, stage, step.position, outcome);
  }
  if (await hasOpenSteps(database(), id, stage)) return step !== undefined;
  await (stage === "study" ? beginJudging(intake) : settle(intake));
  return true;
}

async function told(intake: IntakeRow, what: string): Promise<void> {
  await noteStep(database(), intake.id, what);
  await announceStep(database(), { topic: "intake", id: intake.id, state: "reading" });
}

/** Unpacks what was handed in; nothing, where somebody stops it before it is out. */
async function unpackAll(intake: IntakeRow, limits: Partial<TaskLimits>): Promise<void> {
  const { id } = intake;
  let telling = Promise.resolve();
  let unpacked: Unpacked;
  try {
    unpacked = await unpack(id, {
      limits,
      most: await bytesLeftToday(intake.personId),
      told(done, what) {
        telling = telling
          .then(async () => {
            await setIntakeProgress(database(), id, { done, total: 0, what });
            await announceStep(database(), { topic: "intake", id, state: "reading" });
          })
          .catch((error: unknown) => log.warn({ err: error }, "progress of an intake"));
      },
    });
  } catch (error) {
    if (!limits.signal?.aborted) throw error;
    const ignored = (await listUploads(database(), id)).map(({ name }): IgnoredFile => ({
      file: name,
      kind: "set-aside",
      reason: STOPPED,
    }));
    unpacked = { found: [], ignored, licences: [], hints: new Map(), sheets: new Map(), plain: [], bytes: 0 };
  } finally {
    await telling;
  }
  const { found, bytes, ignored, licences, plain } = unpacked;
  const [hints, sheets] = [[...unpacked.hints], [...unpacked.sheets]];
  await inTransaction(async (db) => {
    if (!(await lockReading(db, id, "unpack"))) return;
    await putSteps(db, id, "study", found);
    await setUnpacked(db, id, { bytes, beside: { ignored, licences, plain, hints, sheets } });
    await beginStage(db, id, "study", found.length);
  });
}

async function study(
  intake: IntakeRow,
  found: Found,
  limits: ItemLimits & { signal: AbortSignal },
): Promise<FileOutcome> {
  await told(intake, `Reading ${found.file}`);
  try {
    await studyFile(found.sha256, limits);
    return {};
  } catch (error) {
    return { aside: asideReason(error, limits.signal, { intake: intake.id, file: found.file }) };
  }
}

async function judge(
  intake: IntakeRow,
  set: SetStep,
  limits: ItemLimits & { signal: AbortSignal },
): Promise<SetOutcome> {
  await told(intake, `Judging ${set.members[0].found.file}`);
  try {
    return await judgeSet(set, intake, limits);
  } catch (error) {
    // One set must not hold up the others.
    const reason = asideReason(error, limits.signal, { intake: intake.id });
    return { ignored: set.members.map(({ found }) => setAside(found, reason)) };
  }
}

/** Why something could not be read. @throws what is no fault of its own */
function asideReason(error: unknown, signal: AbortSignal, what: object): string {
  if (isOwnFault(error)) throw error;
  if (signal.aborted) return STOPPED;
  if (!isSaid(error)) log.warn({ err: error, ...what }, "cannot be read");
  return sentenceOf(error, UNREADABLE);
}

const setAside = ({ file, scope, sha256 }: Found, reason: string): IgnoredFile => ({
  sha256,
  file: shownName({ scope, file }),
  kind: "set-aside",
  reason,
});

/** What came out beside the files that are studied, as it was kept. */
interface Beside extends Pick<Unpacked, "ignored" | "licences" | "plain"> {
  hints: [string, NonNullable<SetStep["hint"]>][];
  sheets: [string, VariantSheet][];
}

/** All files are studied: joins them into sets, which are judged next. Of several lanes that come here one does it. */
async function beginJudging({ id }: IntakeRow): Promise<void> {
  await inTransaction(async (db) => {
    const locked = await lockReading(db, id, "study");
    if (!locked) return;
    const beside = locked.unpacked as Beside;
    const files = (await listOutcomes(db, id, "study")) as { content: Found; outcome: FileOutcome }[];
    const aside = files.flatMap(({ content, outcome }) =>
      outcome.aside === undefined ? [] : [setAside(content, outcome.aside)],
    );
    const sets = await setsOf(
      db,
      files.filter(({ outcome }) => outcome.aside === undefined).map(({ content }) => content),
      beside,
    );
    await putSteps(db, id, "judge", sets);
    const kept = { ignored: [...beside.ignored, ...aside], plain: beside.plain };
    await setUnpacked(db, id, { beside: kept });
    await beginStage(db, id, "judge", sets.length);
  });
}

async function setsOf(db: Db, found: Found[], { licences, hints, sheets }: Beside): Promise<SetStep[]> {
  const images = await findImages(
    db,
    found.map(({ sha256 }) => sha256),
  );
  const rows = new Map(images.map((row) => [row.sha256, row]));
  const foundOf = new Map(
    found.flatMap((one) => {
      const row = rows.get(one.sha256);
      return row ? [[intakeImage(one, row), one] as const] : [];
    }),
  );
  const [hintOf, sheetOf] = [new Map(hints), new Map(sheets)];
  const placeOf = new Map([...foundOf].map(([image, one]) => [`${image.scope}\n${image.file}`, one]));
  return groupImages([...foundOf.keys()], await listKnownMarks(db)).map((group) => {
    const { scope, given } = group[0].image;
    const key = `${scope}\n${given?.set ?? ""}`;
    return {
      members: group.map(({ image, reading }) => ({
        found: placeOf.get(`${image.scope}\n${image.file}`)!,
        reading,
      })),
      licences: licences.filter(
        (one) => one.scope === scope && group.some(({ image }) => image.file.startsWith(one.folder)),
      ),
      hint: hintOf.get(key) ?? null,
      sheet: sheetOf.get(key) ?? null,
    };
  });
}

/** All sets are judged: puts the candidates there for the review. */
async function settle({ id }: IntakeRow): Promise<void> {
  await inTransaction(async (db) => {
    // Another run may have been quicker, and people may have accepted what it found.
    const locked = await lockReading(db, id, "judge");
    if (!locked) return;
    const { ignored, plain } = locked.unpacked as Beside;
    const sets = (await listOutcomes(db, id, "judge")) as {
      content: SetStep;
      outcome: SetOutcome & { aside?: string };
    }[];
    const candidates = [
      ...sets.flatMap(({ outcome }) => outcome.candidate ?? []),
      ...plain.map(({ scope, sheet }) => plainCandidate(scope, sheet)),
    ].sort((a, b) => a.name.localeCompare(b.name));
    const left = sets.flatMap(({ content, outcome }) =>
      outcome.aside === undefined
        ? outcome.ignored
        : content.members.map(({ found }) => setAside(found, outcome.aside!)),
    );
    await replaceCandidates(db, id, candidates, [...ignored, ...left]);
    await clearSteps(db, id);
    await setUnpacked(db, id, { beside: null });
    await setIntakeState(db, id, "review");
    await setIntakeProgress(db, id, { done: 1, total: 1, what: "" });
    await announce(db, { topic: "intake", id, state: "review" });
  });
}

/** A colour without pictures. */
const plainCandidate = (scope: string, sheet: VariantSheet): ReadCandidate => ({
  name: sheet.name,
  folder: "",
  kind: "material",
  layout: "plain",
  maps: [],
  findings: [],
  scope,
  licence: null,
  hint: null,
  sheet,
});
