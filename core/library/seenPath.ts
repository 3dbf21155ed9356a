import { z } from "zod";

/** Where a folder lies as one kind of machine sees it. */
export const seenPathSchema = z
  .object({
    /** “Windows”, “the Macs”, “render nodes”. */
    system: z.string().trim().min(1, "Say for which machines it is.").max(60),
    path: z
      .string()
      .trim()
      .min(1, "Say where it lies there.")
      .max(300)
      .regex(
        /^[^\x00-\x1f"<>|?*]+$/,
        "A path has no quotation marks, brackets, bars, question marks or stars.",
      ),
  })
  .strict();
export type SeenPath = z.infer<typeof seenPathSchema>;

const isBackward = (path: string) => path.includes("\\") || /^[A-Za-z]:/.test(path);

/** A file or folder below it, whole, as that machine writes it. @param inside with forward slashes */
export function wholePath({ path }: SeenPath, inside: string): string {
  const separator = isBackward(path) ? "\\" : "/";
  return [path.replace(/[\\/]+$/, ""), ...inside.split("/").filter(Boolean)].join(separator);
}

const plain = (path: string) =>
  path
    .trim()
    .replaceAll("\\", "/")
    .replaceAll(/\/+/g, "/")
    .replace(/^file:\/*/i, "/");

/**
 * What of a path lies inside a destination, with forward slashes: below one of the places where machines see it, or below a folder of its
 * name. Nothing where it leads elsewhere.
 */
export function insideOf(
  destination: { folder: string; paths: readonly SeenPath[] },
  path: string,
): string | undefined {
  const asked = plain(path);
  for (const { path: root } of destination.paths) {
    const start = `${plain(root).replace(/\/$/, "")}/`;
    if (asked.toLowerCase().startsWith(start.toLowerCase())) return asked.slice(start.length);
  }
  const at = asked.toLowerCase().lastIndexOf(`/${destination.folder.toLowerCase()}/`);
  if (at >= 0) return asked.slice(at + destination.folder.length + 2);
  return asked.toLowerCase().startsWith(`${destination.folder.toLowerCase()}/`)
    ? asked.slice(destination.folder.length + 1)
    : undefined;
}

/** The name of the file that a path ends with. */
export const fileNameIn = (path: string): string => plain(path).replace(/^.*\//, "");
