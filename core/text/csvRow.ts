/** A row of a table of comma-separated values, with its line end. */
export const csvRow = (cells: readonly string[]): string => `${cells.map(cell).join(",")}\r\n`;

function cell(text: string): string {
  // A spreadsheet would take these for formulas.
  const safe = /^[=+\-@\t\r]/.test(text) ? `'${text}` : text;
  return /[",\r\n]/.test(safe) ? `"${safe.replaceAll('"', '""')}"` : safe;
}
