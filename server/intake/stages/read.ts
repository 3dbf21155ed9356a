import type { IgnoredFile, IntakeImage, PlannedCandidate } from "#core/candidates/candidate";
import { fileOf } from "#core/roles/channel";
import { groupImages } from "#core/candidates/groupImages";
import type { Named } from "#core/candidates/named";
import { judgeDensity } from "#core/candidates/judgeDensity";
import type { Purpose } from "#core/judge/holdsUp";
import { type Finding, finding } from "#core/findings/finding";
import { stillOpen } from "#core/findings/stillOpen";
import { sheetRepeat } from "#core/supply/sheetRepeat";
import { isColorRole } from "#core/roles/roles";
import { database, inTransaction } from "#server/db/database";
import type { ImageRow } from "#server/images/queries";
import { findHold, findIntake, type IntakeRow, type ModelHint } from "#server/intake/queries";
import {
  lockReading,
  replaceCandidates,
  setIntakeProgress,
  setIntakeState,
  setUnpacked,
  startClock,
  type ReadCandidate,
} from "#server/intake/writes";
import type { VariantSheet } from "#server/supplier/queries";
import { listUploads } from "#server/intake/receiving/sql";
import { announce, announceStep } from "#server/events/events";
import { pool } from "#server/pool/pool";
import { judgeLikeness } from "#server/likeness/judgeLikeness";
import { keepPreviews, studyFile, withLocalSmalls, type ItemLimits } from "#server/images/studyFile";
import type { Found, FoundLicence, Unpacked } from "#server/intake/stages/found";
import { unpack } from "#server/intake/stages/unpack";
import { settings } from "#server/settings";
import { isOwnFault } from "#server/ownFault";
import { isSaid, sentenceOf } from "#server/sentenceOf";
import type { TaskLimits } from "#server/pool/processPool";
import { bytesLeftToday } from "#server/intake/receiving/dayLimit";
import { log } from "#server/log";

const EXTENSIONS: Record<string, string> = {
  png: "png",
  jpg: "jpeg",
  jpeg: "jpeg",
  tif: "tiff",
  tiff: "tiff",
  webp: "webp",
  avif: "avif",
  tga: "tga",
  bmp: "bmp",
  exr: "exr",
  hdr: "hdr",
};

/** Thrown inside to leave off where somebody asked for a pause. */
class Paused extends Error {}

/** Somebody asked to stop with what there is: what is under way is ended at once. */
class Stopped extends Error {}
const STOPPED = "It was not read: the intake was stopped.";
/** How soon a wish to stop is heard, whatever is being read. */
const WATCHED_EVERY_MS = 1000;

/** Unpacks, studies and groups what an intake received. Runs twice without harm, and goes on where it was. */
export async function readIntake(id: string): Promise<void> {
  const intake = await findIntake(database(), id);
  if (!intake || intake.state !== "reading" || intake.hold === "pause") return;
  try {
    await read(intake);
  } catch (error) {
    if (!(error instanceof Paused)) throw error;
    await announce(database(), { topic: "intake", id, state: "reading" });
  }
}

async function read(intake: IntakeRow): Promise<void> {
  const { id } = intake;
  const stop = new AbortController();
  const watch = setInterval(() => {
    findHold(database(), id)
      .then((hold) => hold === "stop" && stop.abort(new Stopped()))
      .catch((error: Error) => log.warn({ err: error }, "watching an intake"));
  }, WATCHED_EVERY_MS);
  try {
    await readAndJudge(intake, stop.signal);
  } finally {
    clearInterval(watch);
  }
}

async function readAndJudge(intake: IntakeRow, signal: AbortSignal): Promise<void> {
  const { id } = intake;
  await startClock(database(), id);
  const limits = { seconds: intake.itemSeconds, mebibytes: intake.itemMib, signal };
  const { found, ignored, licences, hints, sheets, plain, bytes } = await unpackAll(intake, limits);
  await setUnpacked(database(), id, bytes);
  const studied: { image: IntakeImage; row: ImageRow }[] = [];
  let done = 0;
  await eachOf(found, async (file) => {
    const hold = await progress(id, { done: done++, total: found.length, what: `Reading ${file.file}` });
    if (hold === "stop" || signal.aborted) {
      ignored.push(setAside(file, STOPPED));
      return;
    }
    try {
      const row = await studyFile(file.sha256, limits);
      studied.push({ row, image: intakeImage(file, row) });
    } catch (error) {
      if (isOwnFault(error)) throw error;
      if (!isSaid(error) && !signal.aborted)
        log.warn({ err: error, intake: id, file: file.file }, "cannot be read");
      ignored.push(setAside(file, signal.aborted ? STOPPED : sentenceOf(error, UNREADABLE)));
    }
  });

  const order = new Map(found.map(({ file, scope }, at) => [`${scope}\0${file}`, at]));
  const place = ({ image: { file, scope } }: { image: IntakeImage }) => order.get(`${scope}\0${file}`)!;
  studied.sort((a, b) => place(a) - place(b));
  const rowsBySha = new Map(studied.map(({ row }) => [row.sha256, row]));
  const candidates: ReadCandidate[] = [];
  const groups = groupImages(studied.map(({ image }) => image));
  let planned = 0;
  const judgeGroup = async (group: Named[]) => {
    await progress(id, { done: planned++, total: groups.length, what: `Judging ${group[0].image.file}` });
    const { candidate, passedOver } = await planGroup(group, intake, limits);
    const { scope } = group[0].image;
    const inScope = (file: string) => (scope === "" ? file : `${scope}/${file}`);
    ignored.push(...passedOver.map((one) => ({ ...one, file: inScope(one.file) })));
    const tooLittle = trivial(candidate, intake);
    if (tooLittle) {
      ignored.push(
        ...candidate.maps.map(({ file }): IgnoredFile => ({
          file: inScope(file),
          kind: "left-aside",
          reason: tooLittle,
        })),
      );
      return;
    }
    await finishPreviews(candidate, rowsBySha, limits);
    candidate.findings.push(...(await judgeLikeness(candidate)));
    const set = `${scope}\u0000${candidate.given ?? ""}`;
    const sheet = sheets.get(set) ?? null;
    candidates.push({
      ...candidate,
      findings: withToldSize(candidate, sheet, hints.get(set) ?? null, intake.purpose),
      scope,
      licence: sheet ? null : licenceFor(candidate, scope, licences),
      hint: hints.get(set) ?? null,
      sheet,
    });
  };
  await eachOf(groups, async (group) => {
    const aside = (reason: string) =>
      ignored.push(...group.map(({ image }) => setAside({ ...image, bytes: 0 }, reason)));
    if (signal.aborted) return void aside(STOPPED);
    try {
      await judgeGroup(group);
    } catch (error) {
      if (isOwnFault(error) || error instanceof Paused) throw error;
      // One set must not hold up the others.
      if (!isSaid(error) && !signal.aborted) log.warn({ err: error, intake: id }, "a set cannot be judged");
      aside(signal.aborted ? STOPPED : sentenceOf(error, UNREADABLE));
    }
  });
  candidates.push(...plain.map(({ scope, sheet }) => plainCandidate(scope, sheet)));
  candidates.sort((a, b) => a.name.localeCompare(b.name));

  await inTransaction(async (tx) => {
    // Another run may have been quicker, and people may have accepted what it found.
    if (!(await lockReading(tx, id))) return;
    await replaceCandidates(tx, id, candidates, ignored);
    await setIntakeState(tx, id, "review");
    await setIntakeProgress(tx, id, { done: 1, total: 1, what: "" });
    await announce(tx, { topic: "intake", id, state: "review" });
  });
}

const UNREADABLE = "It is damaged, or of a kind that cannot be read.";

/** Unpacks what was handed in; nothing, where somebody stops it before it is out. */
async function unpackAll(intake: IntakeRow, limits: Partial<TaskLimits>): Promise<Unpacked> {
  const { id } = intake;
  let telling = Promise.resolve();
  try {
    return await unpack(id, {
      limits,
      most: await bytesLeftToday(intake.personId),
      told(done, what) {
        telling = telling
          .then(async () => void (await progress(id, { done, total: 0, what })))
          .catch((error: unknown) => {
            if (!(error instanceof Paused)) log.warn({ err: error }, "progress of an intake");
          });
      },
    });
  } catch (error) {
    if (!limits.signal?.aborted) throw error;
    const ignored = (await listUploads(database(), id)).map(({ name }): IgnoredFile => ({
      file: name,
      kind: "set-aside",
      reason: STOPPED,
    }));
    return { found: [], ignored, licences: [], hints: new Map(), sheets: new Map(), plain: [], bytes: 0 };
  } finally {
    await telling;
  }
}

const setAside = ({ file, scope, sha256 }: Found, reason: string): IgnoredFile => ({
  sha256,
  file: scope === "" ? file : `${scope}/${file}`,
  kind: "set-aside",
  reason,
});

/** As many at a time as there are threads for pixels, so that a large intake does not fill the memory. */
async function eachOf<T>(items: T[], work: (item: T) => Promise<void>): Promise<void> {
  const waiting = [...items];
  const lane = async () => {
    for (let item = waiting.shift(); item !== undefined; item = waiting.shift()) await work(item);
  };
  const lanes = await Promise.allSettled(Array.from({ length: settings().threads }, lane));
  for (const lane of lanes) if (lane.status === "rejected") throw lane.reason;
}

async function planGroup(group: Named[], intake: IntakeRow, limits: ItemLimits) {
  const hashes = group.map(({ image: { sha256 } }) => sha256);
  return withLocalSmalls(hashes, (smallOf) => {
    const smalls = Object.fromEntries(hashes.map((sha256) => [sha256, smallOf(sha256)]));
    return pool.plan({ group, smalls, purpose: intake.purpose }, limits);
  });
}

/** Pictures of single channels, and new ones where a role turned out otherwise than the image looked. */
async function finishPreviews(
  candidate: PlannedCandidate,
  rowsBySha: Map<string, ImageRow>,
  limits: ItemLimits,
): Promise<void> {
  for (const map of candidate.maps) {
    const row = rowsBySha.get(map.sha256)!;
    const data =
      map.channel !== "color" ||
      (map.role !== "unknown" && !isColorRole(map.role) && map.role !== "environment");
    if (map.channel !== "color" || (data && row.shown_as === "color"))
      await keepPreviews(map.sha256, row.format, map.channel, data ? "data" : "color", limits);
  }
}

/** Why a set is too little to be worth keeping, under the rule of its intake. */
function trivial({ maps }: PlannedCandidate, { leastMaps, leastPixels }: IntakeRow): string | undefined {
  const files = new Set(maps.map(fileOf)).size;
  if (files < leastMaps)
    return `The set has ${files} maps; this intake leaves out sets with fewer than ${leastMaps}.`;
  const side = Math.max(...maps.map(({ width, height }) => Math.max(width, height)));
  if (side < leastPixels)
    return `It is ${side} px at most; this intake leaves out what is smaller than ${leastPixels} px.`;
  return undefined;
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

/** The findings, once the size that came along is taken into account. */
function withToldSize(
  { maps, findings }: PlannedCandidate,
  sheet: VariantSheet | null,
  hint: ModelHint | null,
  purpose: Purpose,
): Finding[] {
  const base = maps.find(({ role }) => role === "base_color");
  const told = sheet && base ? sheetRepeat(sheet.line, base) : undefined;
  const repeat = told?.repeat ?? hint?.repeat;
  if (!base || !repeat) return findings;
  const density = judgeDensity(base, repeat, purpose);
  return [
    ...stillOpen(findings, ["size"]),
    ...(density ? [density] : []),
    ...(told && sheet && !told.agrees
      ? [
          finding("sheet-disagrees", {
            across: sheet.line.picture!.across,
            up: sheet.line.picture!.up,
            stretchPercent: told.stretchPercent,
          }),
        ]
      : []),
  ];
}

/** The licence text nearest to a candidate: in its folder, or in one above. */
function licenceFor(candidate: PlannedCandidate, scope: string, licences: FoundLicence[]) {
  const path = candidate.maps[0].file.replace(/[^/]*$/, "");
  const near = licences
    .filter((licence) => licence.scope === scope && path.startsWith(licence.folder))
    .sort((a, b) => b.folder.length - a.folder.length)[0];
  return near ? { ...near.proposal, file: near.file } : null;
}

function intakeImage({ file, scope, sha256, given }: Found, row: ImageRow): IntakeImage {
  const expected = EXTENSIONS[/\.([a-z0-9]+)$/i.exec(file)?.[1].toLowerCase() ?? ""];
  return {
    file,
    scope,
    sha256,
    format: row.format,
    width: row.width,
    height: row.height,
    bitDepth: row.bit_depth,
    channels: row.channels,
    alpha: row.alpha,
    colorSpace: row.color_space,
    ...(row.profile !== null && { profile: row.profile }),
    ...(row.profile_unreadable && { profileUnreadable: true }),
    ...(row.orientation > 1 && { orientation: row.orientation }),
    pages: row.pages,
    ...(row.damaged && { damaged: true }),
    ...(given && { given }),
    ...(row.float_range && { range: row.float_range }),
    ...(row.reading && { reading: row.reading }),
    ...(row.repetition && { repetition: row.repetition }),
    ...(expected === row.format ? {} : { mistakenFor: row.format }),
  };
}

/** Tells how far it is, and hears what somebody asked for. @throws {Paused} */
async function progress(
  id: string,
  progress: { done: number; total: number; what: string },
): Promise<IntakeRow["hold"]> {
  const hold = await setIntakeProgress(database(), id, progress);
  await announceStep(database(), { topic: "intake", id, state: "reading" });
  if (hold === "pause") throw new Paused();
  return hold;
}
