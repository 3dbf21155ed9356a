import type { CandidateMap, IgnoredFile, PlannedCandidate } from "#core/candidates/candidate";
import { judgeDensity } from "#core/candidates/judgeDensity";
import type { Judged, Known } from "#core/candidates/judgeKnown";
import { channelsApart } from "#core/candidates/channelsApart";
import { answeredBefore, type KeptAnswer } from "#core/candidates/keptAnswers";
import { markOf } from "#core/candidates/mark";
import type { Named } from "#core/candidates/named";
import type { QuestionAnswer } from "#core/candidates/questions";
import { type Finding, finding } from "#core/findings/finding";
import { stillOpen } from "#core/findings/stillOpen";
import type { Purpose } from "#core/judge/holdsUp";
import type { NameReading } from "#core/maps/readRole";
import { fileOf } from "#core/roles/channel";
import { isColorRole } from "#core/roles/roles";
import { sheetRepeat } from "#core/supply/sheetRepeat";
import { database } from "#server/db/database";
import { findImage, type ImageRow } from "#server/images/queries";
import { keepPreviews, withLocalSmalls, type ItemLimits } from "#server/images/studyFile";
import type { IntakeRow, ModelHint } from "#server/intake/queries";
import { listKeptFor } from "#server/intake/questions/sql";
import type { Found, FoundLicence } from "#server/intake/stages/found";
import { intakeImage } from "#server/intake/stages/intakeImage";
import { shownName } from "#server/intake/stages/shownName";
import type { ReadCandidate } from "#server/intake/writes";
import { judgeLikeness } from "#server/likeness/judgeLikeness";
import { pool } from "#server/pool/pool";
import type { VariantSheet } from "#server/supplier/queries";

/** One set that is to be judged, with what came along with it. */
export interface SetStep {
  members: { found: Found; reading: NameReading }[];
  /** Licence texts that may be for it. */
  licences: FoundLicence[];
  hint: ModelHint | null;
  sheet: VariantSheet | null;
}

/** What came of it: a candidate, or none, and the files of it that were left out. */
export interface SetOutcome {
  candidate?: ReadCandidate;
  ignored: IgnoredFile[];
}

/** Tells what one set is, how good, and what of the library it is like. */
export async function judgeSet(
  { members, licences, hint, sheet }: SetStep,
  intake: IntakeRow,
  limits: ItemLimits,
): Promise<SetOutcome> {
  const rows = new Map<string, ImageRow>();
  const group: Named[] = [];
  for (const { found, reading } of members) {
    const row = (await findImage(database(), found.sha256))!;
    rows.set(row.sha256, row);
    group.push({ image: intakeImage(found, row), reading });
  }
  const planned = await planGroup(group, intake, limits);
  const { passedOver } = planned;
  const candidate = await withKeptAnswers(planned.candidate, group, intake, limits);
  const { scope } = members[0].found;
  const ignored = passedOver.map((one) => ({ ...one, file: shownName({ scope, file: one.file }) }));
  const reason = trivial(candidate, intake);
  if (reason) {
    const left = candidate.maps.map(({ file }): IgnoredFile => ({
      file: shownName({ scope, file }),
      kind: "left-aside",
      reason,
    }));
    return { ignored: [...ignored, ...left] };
  }
  return {
    ignored,
    candidate: {
      ...candidate,
      findings: await finishJudging(candidate, { rows, sheet, hint }, intake, limits),
      scope,
      licence: sheet ? null : licenceFor(candidate, licences),
      hint,
      sheet,
    },
  };
}

/** Work with the square reductions of a set's images, which are there: where each lies, by its hash. */
function withSmallsOf<T>(group: Named[], work: (smalls: Record<string, string>) => Promise<T>): Promise<T> {
  const hashes = group.map(({ image: { sha256 } }) => sha256);
  return withLocalSmalls(hashes, (smallOf) =>
    work(Object.fromEntries(hashes.map((sha256) => [sha256, smallOf(sha256)]))),
  );
}

const planGroup = (group: Named[], { purpose }: IntakeRow, limits: ItemLimits) =>
  withSmallsOf(group, (smalls) => pool.plan({ group, smalls, purpose }, limits));

/** Judges a set anew whose maps have roles that stay. */
export const judgeMaps = (
  group: Named[],
  known: Known,
  { purpose }: Pick<IntakeRow, "purpose">,
  limits: ItemLimits,
): Promise<Judged> =>
  withSmallsOf(group, (smalls) => pool.judgeMaps({ group, known, smalls, purpose }, limits));

/** A role may bring a question of its own: which way green points. Channels that lie apart are asked about. */
const ROUNDS = 3;

/** What was answered for this source before is not asked again. */
async function withKeptAnswers(
  read: PlannedCandidate,
  group: Named[],
  intake: IntakeRow,
  limits: ItemLimits,
): Promise<Omit<ReadCandidate, "scope" | "licence" | "hint" | "sheet">> {
  const marks = read.maps.map((map) => markOf(fileOf(map))).filter(Boolean);
  const kept = await listKeptFor(database(), marks);
  const given = new Map<string, { answer: KeptAnswer; read: CandidateMap }>();
  const said: Finding[] = [];
  let candidate = read;
  for (let round = 0; round < ROUNDS; round++) {
    const answered = answeredBefore(candidate, kept);
    if (answered.length === 0) break;
    const answerOf = new Map(answered.map(({ file, answer }) => [file, answer]));
    for (const map of candidate.maps) {
      const answer = answerOf.get(map.file);
      if (answer && !given.has(map.file)) given.set(map.file, { answer, read: map });
    }
    const maps = candidate.maps.flatMap((map) => withAnswer(map, answerOf.get(map.file)?.answer, group));
    const { findings } = candidate;
    candidate = { ...candidate, ...(await judgeMaps(group, { maps, findings }, intake, limits)) };
    for (const { file, answer } of answered)
      said.push(
        finding("answered-before", { answer: answer.answer, mark: answer.mark, by: answer.by }, file),
      );
  }
  return {
    ...candidate,
    maps: candidate.maps.map((map) => {
      const answered = given.get(map.file);
      return answered ? { ...map, answered: { by: answered.answer.id, read: answered.read } } : map;
    }),
    findings: [...candidate.findings, ...said],
  };
}

function withAnswer(map: CandidateMap, answer: QuestionAnswer | undefined, group: Named[]): CandidateMap[] {
  switch (answer) {
    case undefined:
      return [map];
    case "leave-out":
      return [{ ...map, leftOut: true }];
    case "apart": {
      const { image } = group.find((one) => one.image.file === map.file)!;
      return image.channels < 3 ? [map] : [{ ...map, leftOut: true }, ...channelsApart(map, image)];
    }
    case "+Y":
    case "-Y":
      return [{ ...map, normalDirection: answer }];
    default:
      return [{ ...map, role: answer, confidence: 0 }];
  }
}

/** Previews, what is like it, and what follows from its size: all that is said of a set whose maps are judged. */
export async function finishJudging(
  candidate: Pick<PlannedCandidate, "kind" | "layout" | "maps" | "findings">,
  along: { rows: Map<string, ImageRow>; sheet: VariantSheet | null; hint: ModelHint | null },
  intake: IntakeRow,
  limits: ItemLimits,
): Promise<Finding[]> {
  await finishPreviews(candidate, along.rows, limits);
  const findings = [...candidate.findings, ...(await judgeLikeness(candidate))];
  return withToldSize({ ...candidate, findings }, along.sheet, along.hint, intake.purpose);
}

/** Pictures of single channels, and new ones where a role turned out otherwise than the image looked. */
async function finishPreviews(
  candidate: Pick<PlannedCandidate, "maps">,
  rows: Map<string, ImageRow>,
  limits: ItemLimits,
): Promise<void> {
  for (const map of candidate.maps) {
    const row = rows.get(map.sha256)!;
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

/** The findings, once the size that came along is taken into account. */
function withToldSize(
  { maps, findings }: Pick<PlannedCandidate, "maps" | "findings">,
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
function licenceFor(candidate: PlannedCandidate, licences: FoundLicence[]) {
  const path = candidate.maps[0].file.replace(/[^/]*$/, "");
  const near = licences
    .filter(({ folder }) => path.startsWith(folder))
    .sort((a, b) => b.folder.length - a.folder.length)[0];
  return near ? { ...near.proposal, file: near.file } : null;
}
