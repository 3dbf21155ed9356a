import { z } from "zod";
import type { CandidateMap } from "#core/candidates/candidate";
import type { Named } from "#core/candidates/named";
import { readRole } from "#core/maps/readRole";
import { fileOf } from "#core/roles/channel";
import { database, inTransaction, oneRow } from "#server/db/database";
import { announce, paced } from "#server/events/events";
import { findImages } from "#server/images/queries";
import { OWN_LIMITS } from "#server/images/studyFile";
import { findCandidates, findIntake, type CandidateRow, type IntakeRow } from "#server/intake/queries";
import { finishJudging, judgeMaps } from "#server/intake/stages/judge";
import { intakeImage } from "#server/intake/stages/intakeImage";
import { replaceJudgement } from "#server/intake/writes";
import { log } from "#server/log";
import { isOwnFault } from "#server/ownFault";

/** Judges all candidates of an intake anew whose maps somebody has told of. What is told meanwhile is judged as well. */
export async function judgeStale(intakeId: string): Promise<void> {
  const intake = await findIntake(database(), intakeId);
  if (!intake) return;
  const tell = paced(() => announce(database(), { topic: "intake", id: intakeId, state: intake.state }));
  for (;;) {
    const next = await oneRow(
      database(),
      z.object({ id: z.string() }),
      "SELECT id FROM candidates WHERE intake = $1 AND is_stale AND state = 'waiting' ORDER BY position LIMIT 1",
      [intakeId],
    );
    if (!next) break;
    const [candidate] = await findCandidates(database(), intakeId, [next.id]);
    if (candidate) await judgeOne(candidate, intake);
    await tell();
  }
  await announce(database(), { topic: "intake", id: intakeId, state: intake.state });
}

async function judgeOne(candidate: CandidateRow, intake: IntakeRow): Promise<void> {
  const judged = await judge(candidate, intake).catch((error: unknown) => {
    if (isOwnFault(error)) throw error;
    log.warn({ err: error, candidate: candidate.id }, "a candidate that cannot be judged again");
    return undefined;
  });
  await inTransaction(async (db) => {
    await db.query("SELECT 1 FROM candidates WHERE id = $1 AND state = 'waiting' FOR UPDATE", [candidate.id]);
    const [now] = await findCandidates(db, intake.id, [candidate.id]);
    if (!now || now.state !== "waiting") return;
    // Something was said of it while it was judged: it is judged once more.
    if (JSON.stringify(told(now)) !== JSON.stringify(told(candidate))) return;
    await replaceJudgement(db, candidate.id, judged);
  });
}

const told = ({ maps }: CandidateRow) =>
  maps.map(({ file, role, normalDirection, leftOut }) => [file, role, normalDirection, leftOut]);

async function judge(candidate: CandidateRow, intake: IntakeRow) {
  const { scope, sheet, hint } = candidate;
  const images = await findImages(
    database(),
    candidate.maps.map(({ sha256 }) => sha256),
  );
  const rows = new Map(images.map((row) => [row.sha256, row]));
  const files = new Map(candidate.maps.map((map) => [fileOf(map), map.sha256]));
  const group = [...files].map(([file, sha256]): Named => ({
    image: intakeImage({ file, scope, sha256 }, rows.get(sha256)!),
    reading: readRole(file),
  }));
  const known = candidate.maps.map(({ normalDirection, ...map }): CandidateMap => ({
    ...map,
    ...(normalDirection !== null && { normalDirection }),
  }));
  const { findings: said } = candidate;
  const judged = await judgeMaps(group, { maps: known, findings: said }, intake, OWN_LIMITS);
  const before = candidate.findings.filter(
    ({ code, file }) =>
      code === "answered-before" && candidate.maps.some((map) => map.file === file && map.answer !== null),
  );
  const findings = await finishJudging(
    { ...candidate, ...judged },
    { rows, sheet, hint },
    intake,
    OWN_LIMITS,
  );
  return { ...judged, findings: [...findings, ...before] };
}
