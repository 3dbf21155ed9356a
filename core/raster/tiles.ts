/** Side of a tile; those at the right and lower edge are smaller. */
const TILE_PX = 1024;

/** Images with a longer side are looked at closely as tiles. */
const TILED_ABOVE_PX = 4096;

/** The longest side that is shown as one picture under the tiles. */
const WHOLE_PX = 1024;

export interface Tile {
  /** Level 0 has every pixel of the image, each further one half as many in both directions. */
  level: number;
  /** Column and row. */
  x: number;
  y: number;
  /** Where it lies, in pixels of its level. */
  left: number;
  top: number;
  width: number;
  height: number;
}

interface Size {
  width: number;
  height: number;
}

/** Size of a level in its own pixels. */
export function levelSize(image: Size, level: number): Size {
  return { width: Math.ceil(image.width / 2 ** level), height: Math.ceil(image.height / 2 ** level) };
}

/** How many levels of tiles an image has: none where it is shown as one picture. */
export function tileLevels(image: Size): number {
  const longest = Math.max(image.width, image.height);
  return longest <= TILED_ABOVE_PX ? 0 : Math.ceil(Math.log2(longest / WHOLE_PX));
}

/**
 * The level that has a pixel for each one of the screen, or as many as there are.
 * @param scale pixels of the screen for one of the image
 * @returns undefined where the picture under the tiles has enough
 */
export function tileLevelFor(image: Size, scale: number): number | undefined {
  const levels = tileLevels(image);
  if (levels === 0 || Math.max(image.width, image.height) * scale <= WHOLE_PX) return undefined;
  return Math.min(levels - 1, Math.max(0, Math.floor(-Math.log2(scale))));
}

/** The tiles of a level that a part of the image touches; the part, in pixels of the image, may reach beyond it. */
export function tilesWithin(
  image: Size,
  level: number,
  part: { left: number; top: number; right: number; bottom: number },
): Tile[] {
  const tiles: Tile[] = [];
  const size = levelSize(image, level);
  const right = Math.min(size.width, part.right / 2 ** level);
  const bottom = Math.min(size.height, part.bottom / 2 ** level);
  const first = (at: number) => Math.max(0, Math.floor(at / 2 ** level / TILE_PX));
  for (let y = first(part.top); y * TILE_PX < bottom; y++)
    for (let x = first(part.left); x * TILE_PX < right; x++) {
      const [left, top] = [x * TILE_PX, y * TILE_PX];
      tiles.push({
        level,
        x,
        y,
        left,
        top,
        width: Math.min(TILE_PX, size.width - left),
        height: Math.min(TILE_PX, size.height - top),
      });
    }
  return tiles;
}

/** All tiles of an image, the full resolution first. */
export function tilesOf(image: Size): Tile[] {
  const whole = { left: 0, top: 0, right: image.width, bottom: image.height };
  return Array.from({ length: tileLevels(image) }, (_, level) => tilesWithin(image, level, whole)).flat();
}
