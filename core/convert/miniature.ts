import type { MaterialMap, MaterialState } from "#core/finish/material";

/** The side of a miniature's images, in pixels. */
export const MINIATURE_SIDE = 256;

/** By this the pixels of a map's miniature are found: a file may hold several maps. */
export const miniatureKey = ({ sha256, channel }: Pick<MaterialMap, "sha256" | "channel">): string =>
  `${sha256}/${channel}`;

/**
 * The material as its previews have it: images of 8 bits, one map in each, `MINIATURE_SIDE` at most. What a profile makes of it looks
 * like what it makes of the whole, and is made at once. Its maps' hashes are keys (`miniatureKey`).
 */
export function miniatureOf(material: MaterialState): MaterialState {
  return {
    ...material,
    maps: material.maps.map(miniatureMap),
    ...(material.wear && { wear: material.wear.map((worn) => ({ ...worn, mask: miniatureMap(worn.mask) })) }),
  };
}

function miniatureMap(map: MaterialMap): MaterialMap {
  const share = Math.min(1, MINIATURE_SIDE / Math.max(map.width, map.height));
  return {
    ...map,
    sha256: miniatureKey(map),
    width: Math.max(1, Math.round(map.width * share)),
    height: Math.max(1, Math.round(map.height * share)),
    channel: "color",
    channels: 3,
    bitDepth: 8,
  };
}
