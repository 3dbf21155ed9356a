/** Conventions that a card is read under, which its reader does not know. */
export interface Hidden {
  data: "raw" | "decoded";
  normals: "up" | "down" | "none";
  shine: "roughness" | "gloss" | "none";
  height: "out" | "in" | "none";
  /** How many times as high as entered heights come out. */
  times: number;
  occlusion: boolean;
  opacity: "own" | "transparency" | "alpha" | "none";
  metal: boolean;
  /** What lies in red, green and blue; none where each has an image of its own. */
  packing: readonly ("occlusion" | "shine" | "metal")[] | null;
}

const ORDERS: readonly NonNullable<Hidden["packing"]>[] = [
  ["occlusion", "shine", "metal"],
  ["occlusion", "metal", "shine"],
  ["shine", "metal", "occlusion"],
  ["shine", "occlusion", "metal"],
  ["metal", "shine", "occlusion"],
  ["metal", "occlusion", "shine"],
];

/**
 * Which renderers are drawn: those that read every kind of map, each in some way, as most that a studio has do; or any, of which one
 * in three reads no height, one in five no normal map, one in five nothing of how shiny a surface is.
 */
export type Readers = "all" | "any";

/** Nine conventions drawn at random. */
export function drawnHidden(random: () => number, readers: Readers): Hidden {
  const one = <T>(...of: readonly T[]): T => of[Math.floor(random() * of.length)];
  const orNone = <T>(share: number, ...of: readonly T[]): T | "none" =>
    readers === "any" && random() < share ? "none" : one(...of);
  return {
    data: one("raw", "decoded"),
    normals: orNone(0.2, "up", "down"),
    shine: orNone(0.2, "roughness", "gloss"),
    height: orNone(1 / 3, "out", "in"),
    occlusion: one(true, false),
    opacity: one("own", "transparency", "alpha", "none"),
    metal: one(true, false),
    packing: random() < 0.4 ? one(...ORDERS) : null,
    times: one(1, 1, 0.6, 1.6, 0.2, 10),
  };
}

/** What the questions about a renderer say of it. */
export function truthOf(hidden: Hidden): Record<string, string> {
  const packed = hidden.packing !== null;
  return {
    colors: "decoded",
    data: hidden.data,
    normals: hidden.normals,
    height: hidden.height,
    amount:
      hidden.height === "none" ? "none" : hidden.times < 0.3 ? "less" : hidden.times > 3 ? "more" : "same",
    shine: packed && hidden.shine === "none" ? "roughness" : hidden.shine,
    occlusion: packed ? "packed" : hidden.occlusion ? "own" : "none",
    opacity: hidden.opacity,
    metal: packed ? "packed" : hidden.metal ? "own" : "none",
    packing: hidden.packing ? hidden.packing.join("-") : "none",
  };
}
