import type { ColorAdjustment } from "#core/finish/colorAdjustment";
import type { RoughnessAdjustment } from "#core/finish/roughnessAdjustment";
import type { WornImage } from "#core/convert/kernels/layWear";
import type { WearLayer } from "#core/finish/wear";
import type { Repeat } from "#core/length/repeat";
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
  | ({ op: "adjust-color" } & ColorAdjustment)
  | ({ op: "adjust-roughness"; values: "roughness" | "gloss" } & RoughnessAdjustment)
  /** Cuts a height off below and above. */
  | { op: "limit"; low: number; high: number }
  /** Nothing of an opacity lies between there and not there. */
  | { op: "cut"; at: number }
  /** Where occlusion is delivered, in place of being multiplied in: weakened and curved as the finish wants it. */
  | { op: "soften-occlusion"; strength: number; gamma: number }
  /** Weakens a weight. */
  | { op: "scale"; by: number }
  | { op: "multiply"; strength: number; gamma: number }
  | { op: "resize"; width: number; height: number; values: "srgb" | "data" | "normal" }
  | { op: "to-bits"; bitDepth: 8 | 16; dither: boolean }
  /** Takes up what the normal map of the layer loses where it is delivered in this size. */
  | { op: "roughen"; width: number; height: number; weight: number; values: "roughness" | "gloss" }
  | { op: "attach-opacity" }
  /** Makes an image from nothing. Values as they are stored, 0..1. */
  | { op: "fill"; width: number; height: number; values: number[]; bitDepth: 8 | 16 }
  /** Several repeats in one image. */
  | { op: "tile"; across: number; down: number }
  /** Lays the marks of wear layers on, the first at the bottom. */
  | { op: "wear"; image: WornImage; area: Repeat; layers: LaidLayer[] };

/** A wear layer that is baked. */
export interface LaidLayer extends Pick<
  WearLayer,
  "strength" | "polarity" | "effect" | "amountMm" | "tint" | "turn" | "start"
> {
  /** Its code. */
  of: string;
  /** Which of the planned layer's masks its marks are in. */
  mask: number;
  /** The real size that its mask has here, before it is turned. */
  size: Repeat;
  repeats: boolean;
}

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
    case "adjust-color":
      return colorWord(operation);
    case "adjust-roughness":
      return roughnessWord(operation);
    case "limit":
      return `limit ${operation.low} ${operation.high}`;
    case "cut":
      return `cut ${operation.at}`;
    case "soften-occlusion":
      return `soften-occlusion ${operation.strength}${operation.gamma === 1 ? "" : ` gamma ${operation.gamma}`}`;
    case "scale":
      return `scale ${operation.by}`;
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
    case "fill":
      return `fill ${operation.values.map((value) => Number(value.toFixed(4))).join(" ")}`;
    case "tile":
      return `tile ${operation.across} ${operation.down}`;
    case "wear":
      return operation.layers
        .map(({ of, effect, strength }) => `wear ${of} ${effect} ${strength}`)
        .join(", ");
    default:
      return operation.op;
  }
}

/** Only what changes anything. */
function colorWord(adjustment: ColorAdjustment): string {
  const parts: [string, string | number | undefined][] = [
    ["tint", adjustment.tint],
    ["warmth", adjustment.warmth],
    ["stops", adjustment.brightnessStops],
    ["gamma", adjustment.gamma],
    ["contrast", adjustment.contrast],
    ["saturation", adjustment.saturation],
  ];
  const set = parts.filter(([, value]) => value !== undefined);
  return `adjust-color ${set.map(([name, value]) => `${name} ${value}`).join(" ")}`;
}

function roughnessWord({ scale, shift, low, high }: RoughnessAdjustment): string {
  const limits = low === 0 && high === 1 ? "" : ` limit ${low} ${high}`;
  return `adjust-roughness ${scale}${shift === 0 ? "" : ` shift ${shift}`}${limits}`;
}

/** `pack ao roughness 0`: what each channel of a packed image holds. */
export function packWord(channels: (Role | number)[]): string {
  return `pack ${channels.map((part) => (typeof part === "number" ? part : (SHORT_ROLES[part] ?? part))).join(" ")}`;
}
