import type { ContainedWear } from "#core/formats/container";
import type { FileValues } from "#core/formats/fittingValues";
import type { MapChannel } from "#core/roles/channel";
import type { NormalDirection, Role } from "#core/roles/roles";

/** One map of a material that a model or a material file describes. */
export interface ModelMap {
  role: Role;
  channel: MapChannel;
  normalDirection?: NormalDirection;
  /** How the file says that the numbers are meant, where it says so: as encoded colours, or as they are. */
  colorSpace?: "srgb" | "raw";
  /** Where the image is: a path relative to the file, or the bytes that the file holds. */
  image: { path: string } | { name: string; bytes: Uint8Array };
}

/** A material as a 3D model, a MaterialX document or a USD layer describes it. */
export interface ModelMaterial {
  name: string;
  maps: ModelMap[];
  values: FileValues;
  /** Real size of one repeat in millimetres, where the geometry or the file tells. */
  repeat: { width: number; height: number } | null;
  /** Layers that lie over it, the first at the bottom, where the file says them. */
  wear?: { path: string; lies: ContainedWear }[];
}

export interface ModelReading {
  materials: ModelMaterial[];
  /** What could not be read, in sentences. */
  problems: string[];
}

/** A path inside the file's folder, or below the top of the download; undefined where it leads out or is an address. */
export function resolvePath(from: string, path: string): string | undefined {
  const plain = path.replaceAll("\\", "/");
  if (/^([a-z][a-z0-9+.-]*:|\/)/i.test(plain)) return undefined;
  const parts = from.split("/").slice(0, -1);
  for (const part of plain.split("/")) {
    if (part === "" || part === ".") continue;
    if (part !== "..") parts.push(part);
    else if (parts.length === 0) return undefined;
    else parts.pop();
  }
  return parts.join("/");
}
