/** Names that some systems keep for devices, with any ending. */
const DEVICES = /^(con|prn|aux|nul|com\d|lpt\d)(\.|$)/i;

/** Whether a folder of this name can be made and reached on every system that a studio may have. */
export function isPortableName(name: string): boolean {
  return /^[A-Za-z0-9][A-Za-z0-9 _-]*$/.test(name) && !name.endsWith(" ") && !DEVICES.test(name);
}

/** A name of that kind, near to another one. */
export function portableName(name: string, otherwise: string): string {
  const plain = name
    .replaceAll(/[^A-Za-z0-9 _-]+/g, "-")
    .replace(/^[^A-Za-z0-9]+/, "")
    .slice(0, 100)
    .trimEnd();
  if (plain === "") return otherwise;
  return isPortableName(plain) ? plain : `${plain}-${otherwise}`;
}
