/** What an intake is called: its files, or how many there are and from which folder. */
export function titleOf(uploads: string[]): string {
  if (uploads.length <= 3) return uploads.join(", ");
  const roots = new Set(uploads.map((name) => name.split("/")[0]));
  return roots.size === 1 && uploads[0].includes("/")
    ? `${[...roots][0]}/ (${uploads.length} files)`
    : `${uploads.length} files`;
}
