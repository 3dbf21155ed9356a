import { isComplete } from "#core/candidates/isComplete";
import type { CandidateMap } from "#core/candidates/candidate";
import type { Named } from "#core/candidates/named";
import { judgedAgain } from "#core/findings/judgedAgain";
import type { Answer } from "#core/findings/kind";
import type { Purpose } from "#core/judge/holdsUp";
import { readRole } from "#core/maps/readRole";
import { fileOf } from "#core/roles/channel";
import { database, inTransaction } from "#server/db/database";
import { findImages } from "#server/images/queries";
import { OWN_LIMITS } from "#server/images/studyFile";
import { intakeImage } from "#server/intake/stages/intakeImage";
import { judgeMaps } from "#server/intake/stages/judge";
import { log } from "#server/log";
import { findMaterial, lockMaterial, type MaterialRow } from "#server/material/queries";
import { purposeOf, replaceFindings } from "#server/remake/judgementSql";
import { isOwnFault } from "#server/ownFault";
import { isGoing, noteJudged, type Judgement } from "#server/remake/sql";
import { sentenceOf } from "#server/sentenceOf";

const leftAsItWas = (reason: string | null): Judgement => ({
  ...{ came: [], went: [], replaced: null },
  reason,
});
const CHANGED = "It was changed meanwhile, and is left as it is.";

/**
 * Judges the newest revision of a material by what is read of its files now. Roles, directions and all that is set stay as they are;
 * what somebody has changed meanwhile is left.
 */
export async function judgeMaterialAgain(remake: string, id: string): Promise<void> {
  const material = await findMaterial(database(), id);
  // What was taken out of the library meanwhile is said nothing of.
  if (!material) return noteJudged(database(), remake, id, leftAsItWas(null));
  const now = await findingsOf(material, await purposeOf(database(), id)).catch((error: unknown) => {
    if (isOwnFault(error)) throw error;
    log.warn({ err: error, material: id }, "a material that cannot be judged again");
    return sentenceOf(error, "Its files cannot be read any more. Look for all originals.");
  });
  if (typeof now === "string") return noteJudged(database(), remake, id, leftAsItWas(now));
  await inTransaction(async (db) => {
    const { findings, came, went } = judgedAgain(material.findings, now, settledOf(material));
    // Whoever stops the run may have taken it back by now.
    if (!(await isGoing(db, remake))) return;
    const { revision } = material;
    if ((await lockMaterial(db, id))?.revision !== revision)
      return noteJudged(db, remake, id, leftAsItWas(CHANGED));
    await replaceFindings(db, id, revision, findings);
    const isOther = came.length + went.length > 0;
    const replaced = isOther ? { revision, before: material.findings, after: findings } : null;
    await noteJudged(db, remake, id, { came, went, replaced, reason: null });
  });
}

async function findingsOf(material: MaterialRow, purpose: Purpose) {
  const images = await findImages(
    database(),
    material.maps.map(({ sha256 }) => sha256),
  );
  const rows = new Map(images.map((row) => [row.sha256, row]));
  const maps = material.maps.map(
    ({ role, sha256, channel, fileName, normalDirection, width, height, bitDepth }): CandidateMap => ({
      ...{ file: fileName, sha256, channel, role, confidence: 1, likely: [], width, height, bitDepth },
      ...(normalDirection && { normalDirection }),
    }),
  );
  const files = new Map(maps.map((map) => [fileOf(map), map.sha256]));
  const group = [...files].map(([file, sha256]): Named => ({
    image: intakeImage({ file, scope: "", sha256 }, rows.get(sha256)!),
    reading: readRole(file),
  }));
  // Nothing is passed of what was said before: a direction that the pixels told then is one that the material has.
  const { kind, layout } = material;
  const { findings } = await judgeMaps(group, { maps, findings: [], kind, layout }, { purpose }, OWN_LIMITS);
  return findings;
}

function settledOf({ maps, sizeState }: MaterialRow): Answer[] {
  const normal = maps.find(({ role }) => role === "geometry_normal");
  return [
    "acceptance",
    ...(maps.some(({ role }) => role === "base_color") ? (["base-color"] as const) : []),
    ...(isComplete(maps) ? (["complete-set"] as const) : []),
    ...(normal?.normalDirection ? (["direction"] as const) : []),
    ...(sizeState === "known" ? (["size"] as const) : []),
  ];
}
