import { formatBytes } from "#core/length/formatBytes";
import { database } from "#server/db/database";
import { bytesOfDay } from "#server/intake/receiving/sql";
import { Problem } from "#server/problem";
import { settings } from "#server/settings";

/** Bytes that somebody may still hand in today, and that may come out of what they handed in. */
export async function bytesLeftToday(person: string): Promise<number> {
  return Math.max(0, settings().maxDayBytes - (await bytesOfDay(database(), person)));
}

/**
 * One person's scripts must not fill the disk that all share.
 * @param bytes that are about to come, as far as that is known
 * @throws {Problem} 413 where somebody has sent enough within a day
 */
export async function checkDayLimit(person: string, bytes: number): Promise<void> {
  const limit = settings().maxDayBytes;
  const sent = await bytesOfDay(database(), person);
  if (sent + bytes <= limit) return;
  throw new Problem(
    413,
    "Too much",
    `You have handed in ${formatBytes(sent)} within a day, and with this it would be more than ${formatBytes(limit)}. Try again tomorrow, or ask the keeper for more.`,
  );
}
