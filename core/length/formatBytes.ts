const UNITS = ["bytes", "KB", "MB", "GB", "TB"];

/** An amount of data in decimal units, with three digits at most. */
export function formatBytes(bytes: number): string {
  const power = Math.min(UNITS.length - 1, bytes < 1 ? 0 : Math.floor(Math.log10(bytes) / 3));
  const value = bytes / 1000 ** power;
  return `${power === 0 || value >= 100 ? Math.round(value) : value.toFixed(1)} ${UNITS[power]}`;
}
