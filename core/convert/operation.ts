import type { MapChannel } from "#core/roles/channel";
import type { Role } from "#core/roles/roles";

/** One thing done to an image on its way from a map to a delivered file, in the order in which it is done. */
export type Operation =
  | { op: "take-channel"; channel: Exclude<MapChannel, "color"> }
  | { op: "drop-alpha" }
  | { op: "to-grey" }
  | { op: "invert" }
  | { op: "flip-green" }
  | { op: "scale-normal"; strength: number }
  | { op: "multiply"; strength: number; gamma: number }
  | { op: "resize"; width: number; height: number; values: "srgb" | "data" | "normal" }
  | { op: "to-bits"; bitDepth: 8 | 16; dither: boolean }
  /** Takes up what the normal map of the layer loses where it is delivered in this size. */
  | { op: "roughen"; width: number; height: number; weight: number; values: "roughness" | "gloss" }
  | { op: "attach-opacity" };

const SHORT_ROLES: Partial<Record<Role, string>> = {
  ambient_occlusion: "ao",
  specular_roughness: "roughness",
  base_metalness: "metalness",
};

/** The operation as a word and its numbers, as accounts show it. */
export function operationWord(operation: Operation): string {
  switch (operation.op) {
    case "take-channel":
      return `take ${operation.channel}`;
    case "scale-normal":
      return `scale-normal ${operation.strength}`;
    case "multiply":
      return `multiply ao ${operation.strength}${operation.gamma === 1 ? "" : ` gamma ${operation.gamma}`}`;
    case "resize":
      return operation.width === operation.height
        ? `resize ${operation.width}`
        : `resize ${operation.width} ${operation.height}`;
    case "roughen":
      return `roughen normal ${Number(operation.weight.toFixed(3))}`;
    case "to-bits":
      return `bits ${operation.bitDepth}${operation.dither ? " dither" : ""}`;
    default:
      return operation.op;
  }
}

/** `pack ao roughness 0`: what each channel of a packed image holds. */
export function packWord(channels: (Role | number)[]): string {
  return `pack ${channels.map((part) => (typeof part === "number" ? part : (SHORT_ROLES[part] ?? part))).join(" ")}`;
}
