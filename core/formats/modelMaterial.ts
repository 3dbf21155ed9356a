import type { MapChannel } from "#core/roles/channel";
import type { NormalDirection, Role } from "#core/roles/roles";

/** One map of a material that a model or a material file describes. */
export interface ModelMap {
  role: Role;
  channel: MapChannel;
  normalDirection?: NormalDirection;
  /** Where the image is: a path relative to the file, or the bytes that the file holds. */
  image: { path: string } | { name: string; bytes: Uint8Array };
}

/** A material as a 3D model, a MaterialX document or a USD layer describes it. */
export interface ModelMaterial {
  name: string;
  maps: ModelMap[];
  values: { color?: string; roughness?: number; metalness?: number; ior?: number };
  /** Real size of one repeat in millimetres, where the geometry or the file tells. */
  repeat: { width: number; height: number } | null;
}

export interface ModelReading {
  materials: ModelMaterial[];
  /** What could not be read, in sentences. */
  problems: string[];
}

/** Encoded `#rrggbb` of a linear colour. */
export function hexOfLinear([r, g, b]: number[]): string {
  const code = (v: number) => {
    const clear = Math.min(1, Math.max(0, v));
    const encoded = clear <= 0.0031308 ? clear * 12.92 : 1.055 * clear ** (1 / 2.4) - 0.055;
    return Math.round(encoded * 255)
      .toString(16)
      .padStart(2, "0");
  };
  return `#${code(r)}${code(g)}${code(b)}`;
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
