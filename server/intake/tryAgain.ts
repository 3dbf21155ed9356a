import { database } from "#server/db/database";
import { listKept } from "#server/db/files";
import { findIntake, listIgnored, type IntakeOptions, type IntakeRow } from "#server/db/intakes";
import type { Person } from "#server/db/people";
import { startIntake } from "#server/intake/receive";
import { conflict, notFound } from "#server/problem";

/**
 * Hands the files that an intake set aside in again, as an intake of their own, with other limits.
 * @throws {Problem} where there is none that was kept
 */
export async function tryAgain(id: string, options: IntakeOptions, person: Person): Promise<IntakeRow> {
  const db = database();
  const intake = await findIntake(db, id);
  if (!intake) throw notFound("intake");
  const aside = (await listIgnored(db, id)).filter(({ kind, sha256 }) => kind === "set-aside" && sha256);
  const bytes = new Map(
    (
      await listKept(
        db,
        aside.map(({ sha256 }) => sha256!),
      )
    ).map((file) => [file.sha256, file.bytes]),
  );
  const uploads = aside
    .filter(({ sha256 }) => bytes.has(sha256!))
    .map(({ file, sha256 }) => ({ name: file, sha256: sha256!, bytes: bytes.get(sha256!)! }));
  if (uploads.length === 0)
    throw conflict("No file that was set aside is kept: there is nothing to try again.");
  return startIntake(uploads, { purpose: intake.purpose, onClash: intake.onClash, ...options }, person.id);
}
