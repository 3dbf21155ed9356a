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
