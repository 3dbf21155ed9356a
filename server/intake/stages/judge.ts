import type { IgnoredFile, PlannedCandidate } from "#core/candidates/candidate";
import { judgeDensity } from "#core/candidates/judgeDensity";
import type { Named } from "#core/candidates/named";
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
  const { candidate, passedOver } = await planGroup(group, intake, limits);
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
  await finishPreviews(candidate, rows, limits);
  candidate.findings.push(...(await judgeLikeness(candidate)));
  return {
    ignored,
    candidate: {
      ...candidate,
      findings: withToldSize(candidate, sheet, hint, intake.purpose),
      scope,
      licence: sheet ? null : licenceFor(candidate, licences),
      hint,
      sheet,
    },
  };
}

function planGroup(group: Named[], intake: IntakeRow, limits: ItemLimits) {
  const hashes = group.map(({ image: { sha256 } }) => sha256);
  return withLocalSmalls(hashes, (smallOf) => {
    const smalls = Object.fromEntries(hashes.map((sha256) => [sha256, smallOf(sha256)]));
    return pool.plan({ group, smalls, purpose: intake.purpose }, limits);
  });
}

/** Pictures of single channels, and new ones where a role turned out otherwise than the image looked. */
async function finishPreviews(
  candidate: PlannedCandidate,
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
function licenceFor(candidate: PlannedCandidate, licences: FoundLicence[]) {
  const path = candidate.maps[0].file.replace(/[^/]*$/, "");
  const near = licences
    .filter(({ folder }) => path.startsWith(folder))
    .sort((a, b) => b.folder.length - a.folder.length)[0];
  return near ? { ...near.proposal, file: near.file } : null;
}
