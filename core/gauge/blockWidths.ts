import type { ModuleCount } from "#core/gauge/findModules";

/** A period of herringbone along the edges is four widths of a block, across and down. */
const WIDTHS = 4;

/** What is counted in modules that have a size of their own: widths of a block for herringbone, as it is for the rest. */
export function blockWidths({ across, down, bond }: Pick<ModuleCount, "across" | "down" | "bond">) {
  const times = bond === "herringbone" ? WIDTHS : 1;
  return {
    ...(across !== undefined && { across: times * across }),
    ...(down !== undefined && { down: times * down }),
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
