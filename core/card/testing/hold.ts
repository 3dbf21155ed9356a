import { CARD_MM, CARD_PX, CARD_RELIEF_MM, type CardFile } from "#core/card/layout";
import type { Hidden } from "#core/card/testing/hidden";
import { paintCard } from "#core/card/paintCard";
import { maxValue, type Raster } from "#core/raster/raster";
import { linearTable } from "#core/raster/srgb";

/** A card as a renderer of these conventions holds it: rows from the top, all linear, normals x right, y up. */
export interface Held {
  color: Float32Array;
  normal: Float32Array;
  roughness: Float32Array;
  metal: Float32Array;
  occlusion: Float32Array;
  opacity: Float32Array;
  /** How far each pixel stands out, in pixels of the card; null where no height is read. */
  height: Float32Array | null;
}

const painted = new Map<string, Raster>();
/** Only its colours are printed with a number. */
function fileOf(file: CardFile, number: number): Raster {
  const key = file === "color" ? `${file} ${number}` : file;
  if (!painted.has(key)) painted.set(key, paintCard(file, number));
  return painted.get(key)!;
}

export function hold(hidden: Hidden, number: number): Held {
  const count = CARD_PX * CARD_PX;
  const channel = (file: CardFile, at: number) => {
    const raster = fileOf(file, number);
    const decoded = linearTable(raster.bitDepth);
    const [most, { data, channels }] = [maxValue(raster), raster];
    const out = new Float32Array(count);
    for (let i = 0; i < count; i++) {
      const code = data[i * channels + at];
      out[i] = hidden.data === "decoded" ? decoded[code] : code / most;
    }
    return out;
  };
  const all = (value: number) => new Float32Array(count).fill(value);
  const color = fileOf("color", number);
  const packed = (role: "occlusion" | "shine" | "metal") => hidden.packing?.indexOf(role) ?? -1;
  const one = (role: "occlusion" | "shine" | "metal", isThere: boolean, otherwise: number) =>
    packed(role) >= 0
      ? channel("packed", packed(role))
      : isThere && !hidden.packing
        ? channel(role, 0)
        : all(otherwise);
  const shine = one("shine", hidden.shine !== "none", 0.5);
  const opacity =
    hidden.opacity === "own"
      ? channel("opacity", 0)
      : hidden.opacity === "transparency"
        ? channel("transparency", 0).map((value) => 1 - value)
        : hidden.opacity === "alpha"
          ? Float32Array.from({ length: count }, (_, i) => color.data[i * 4 + 3] / 255)
          : all(1);
  return {
    color: colorOf(color),
    ...surfaceOf(hidden, channel),
    roughness: hidden.shine === "gloss" ? shine.map((value) => 1 - value) : shine,
    metal: one("metal", hidden.metal, 0),
    occlusion: one("occlusion", hidden.occlusion, 1),
    opacity,
  };
}

function colorOf({ data }: Raster): Float32Array {
  const table = linearTable(8);
  const out = new Float32Array(CARD_PX * CARD_PX * 3);
  for (let i = 0; i < out.length; i++) out[i] = table[data[Math.floor(i / 3) * 4 + (i % 3)]];
  return out;
}

function surfaceOf(
  hidden: Hidden,
  channel: (file: CardFile, at: number) => Float32Array,
): Pick<Held, "normal" | "height"> {
  const out = new Float32Array(CARD_PX * CARD_PX * 3);
  const maps = hidden.normals === "none" ? null : [0, 1, 2].map((at) => channel("normal", at));
  const green = hidden.normals === "down" ? -1 : 1;
  const sign = hidden.height === "none" ? 0 : hidden.height === "in" ? -1 : 1;
  const height = channel("height", 0);
  const perPx = (sign * hidden.times * CARD_RELIEF_MM) / (CARD_MM / CARD_PX);
  const at = (x: number, y: number) =>
    height[Math.min(CARD_PX - 1, Math.max(0, y)) * CARD_PX + Math.min(CARD_PX - 1, Math.max(0, x))];
  for (let y = 0, i = 0; y < CARD_PX; y++)
    for (let x = 0; x < CARD_PX; x++, i++) {
      let [nx, ny, nz] = maps
        ? [maps[0][i] * 2 - 1, green * (maps[1][i] * 2 - 1), Math.max(0.01, maps[2][i] * 2 - 1)]
        : [0, 0, 1];
      if (sign !== 0) {
        // As a displaced surface leans, and then the map on it.
        nx = nx / nz - ((at(x + 1, y) - at(x - 1, y)) / 2) * perPx;
        ny = ny / nz - ((at(x, y - 1) - at(x, y + 1)) / 2) * perPx;
        nz = 1;
      }
      const length = Math.hypot(nx, ny, nz);
      out[i * 3] = nx / length;
      out[i * 3 + 1] = ny / length;
      out[i * 3 + 2] = nz / length;
    }
  return { normal: out, height: sign === 0 ? null : height.map((value) => value * perPx) };
}
