import type { IntakeRow } from "#server/intake/queries";

/** What an intake is called: the folder that all its files come from, else its files, or how many there are. */
export function titleOf({
  files,
  firstFiles,
  root,
}: Pick<IntakeRow, "files" | "firstFiles" | "root">): string {
  if (root !== null && files > 1) return `${root}/ (${files} files)`;
  return files <= 3 ? firstFiles.join(", ") : `${files} files`;
}
