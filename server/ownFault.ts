const DISK = new Set(["ENOSPC", "EDQUOT"]);
const OURS = new Set([...DISK, "EROFS", "EACCES", "EMFILE", "ENFILE", "EIO"]);

/** Codes of a connection to PostgreSQL that was refused, lost, or not made in time. */
const CONNECTION = new Set(["ECONNREFUSED", "ECONNRESET", "EPIPE", "ETIMEDOUT", "EHOSTUNREACH", "ENOTFOUND"]);
/** How pg says the same without a code. */
const CONNECTION_WORDS =
  /Connection terminated|timeout exceeded when trying to connect|Query read timeout|Client has encountered a connection error|not queryable|the database system is/i;

/**
 * Whether PostgreSQL is away: it cannot be reached, ends, or begins (SQLSTATE classes 08 and 57P, and 53300). What it
 * refuses because of the data that came is something else.
 */
export function isDatabaseAway(error: unknown): boolean {
  if (isStoreTrouble(error)) return false;
  const code = codeOf(error);
  if (code !== undefined && /^(08...|57P0[1-5]|53300)$/.test(code)) return true;
  if (code !== undefined && CONNECTION.has(code)) return true;
  return error instanceof Error && CONNECTION_WORDS.test(error.message);
}

/**
 * Whether the disk or the database failed, and not the file that is being read: then the work has to stop as a whole. Of PostgreSQL's
 * codes these are the classes of resources, of an operator's act, of its system and of its own defects (53, 57, 58, XX), and conflicts
 * that pass (40).
 */
export function isOwnFault(error: unknown): boolean {
  const code = codeOf(error);
  if (isDatabaseAway(error) || isStoreTrouble(error)) return true;
  return code !== undefined && (OURS.has(code) || /^(40|53|57|58|XX)...$/.test(code));
}

/** Whether an object store cannot be reached, or refuses us: its SDK marks all its errors. A missing object is no error there. */
export function isStoreTrouble(error: unknown): boolean {
  return error instanceof Error && "$metadata" in error;
}

/** Whether the disk is full: trying again at once does not help. */
export function isDiskFull(error: unknown): boolean {
  const code = codeOf(error);
  return code !== undefined && DISK.has(code);
}

/** What is said of a data folder or an object store that cannot be written to; undefined for any other error. */
export function diskTrouble(error: unknown): string | undefined {
  if (isStoreTrouble(error))
    return "The object store cannot be reached, or refuses us. Have that put right and try again; nothing is half-written.";
  if (isDiskFull(error)) return DISK_FULL;
  const code = codeOf(error);
  if (code === "EROFS" || code === "EACCES")
    return "The data folder cannot be written to. Have that put right and try again; nothing is half-written.";
  if (code === "EIO") return "The disk fails. Have it looked at and try again; nothing is half-written.";
  return undefined;
}

const DISK_FULL = "The disk is full. Make room and try again; nothing is half-written.";

function codeOf(error: unknown): string | undefined {
  const code = (error as { code?: unknown } | null)?.code;
  return typeof code === "string" ? code : undefined;
}
