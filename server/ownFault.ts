const DISK = new Set(["ENOSPC", "EDQUOT"]);
const OURS = new Set([...DISK, "EROFS", "EMFILE", "ENFILE", "EIO", "ECONNREFUSED", "ECONNRESET"]);

/** Whether the disk or the database failed, and not the file that is being read: then the work has to stop as a whole. */
export function isOwnFault(error: unknown): boolean {
  const code = codeOf(error);
  // PostgreSQL's codes have five characters.
  return code !== undefined && (OURS.has(code) || /^[0-9A-Z]{5}$/.test(code));
}

/** Whether the disk is full: trying again at once does not help. */
export function isDiskFull(error: unknown): boolean {
  const code = codeOf(error);
  return code !== undefined && DISK.has(code);
}

export const DISK_FULL = "The disk is full. Make room and try again; nothing is half-written.";

function codeOf(error: unknown): string | undefined {
  const code = (error as { code?: unknown } | null)?.code;
  return typeof code === "string" ? code : undefined;
}
