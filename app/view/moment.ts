/** A moment as a list shows it, in universal time, so that server and browser write the same. */
export function moment(at: Date | string): string {
  return new Date(at).toISOString().slice(0, 16).replace("T", " ");
}
