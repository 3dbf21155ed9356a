import type { ModuleCount } from "#core/gauge/findModules";

/** A block of herringbone is twice as long as wide, unless its count says otherwise. */
const BLOCK_LENGTH = 2;
/** A stretcher and a header of Flemish bond are as long as so many headers. */
const HEADERS = 3;

/**
 * What is counted in pieces that have a size of their own: widths of a block for herringbone, of which a period along the
 * edges is two block lengths; headers for Flemish bond; modules for the rest.
 */
export function blockWidths({
  across,
  down,
  bond,
  upright,
  blockLength = BLOCK_LENGTH,
}: Pick<ModuleCount, "across" | "down" | "bond" | "upright" | "blockLength">) {
  const [along, by] =
    bond === "herringbone" ? [2 * blockLength, 2 * blockLength] : bond === "flemish" ? [HEADERS, 1] : [1, 1];
  const [timesAcross, timesDown] = upright ? [by, along] : [along, by];
  return {
    ...(across !== undefined && { across: timesAcross * across }),
    ...(down !== undefined && { down: timesDown * down }),
  };
}

/**
 * A period of blocks of 2:1 in herringbone at 45°, by the width of a block with its joint: √2 widths the short way and
 * 2·√2 the long way, since the pattern goes into itself by (1, 1) and (4, 0) widths along its own edges.
 * @returns mm across and down
 */
export function slantedPeriod(
  widthMm: number,
  cell: { width: number; height: number },
): { width: number; height: number } {
  const [short, long] = [Math.SQRT2 * widthMm, 2 * Math.SQRT2 * widthMm];
  return cell.width < cell.height ? { width: short, height: long } : { width: long, height: short };
}
