import type { Bond } from "#core/gauge/bond";
import type { Copies } from "#core/gauge/counting/copies";
import { readPicture } from "#core/gauge/counting/readPicture";
import { choose } from "#core/gauge/counting/weigh";
import type { Plane } from "#core/raster/plane";

/** What a seamless picture repeats: whole numbers of modules, since it goes on at its other side. */
export interface ModuleCount {
  /**
   * Modules across and courses down; undefined in a direction in which none were found. For both kinds of herringbone its
   * periods, for English bond stretchers, for Flemish bond pairs of a stretcher and a header, for basket weave squares.
   */
  across?: number;
  down?: number;
  bond: Bond;
  /** Columns are shifted against each other, and not courses: boards that run up and down. */
  upright?: boolean;
  /** How many times as long as wide a block of herringbone is. */
  blockLength?: number;
  /** How often the picture holds itself beside itself, where it does. */
  copies?: Copies;
  /** How likely all of this is right, 0..1; also that nothing repeats. */
  sure: number;
}

/** From here on it counts as sure. */
export const SURE = 0.9;

/**
 * Counts the modules of a seamless picture: reads its joints as courses and columns, compares it with itself after every shift,
 * weighs all that it may hold, and says how sure it is.
 * @param planes maps that lie over each other, of one size
 */
export function findModules(planes: Plane[]): ModuleCount {
  const { candidates, copies } = readPicture(planes);
  const { candidate, sure } = choose(candidates);
  const { across, down, bond, upright, blockLength } = candidate;
  return {
    ...(across !== undefined && { across }),
    ...(down !== undefined && { down }),
    bond,
    ...(upright && { upright }),
    ...(blockLength !== undefined && { blockLength }),
    ...(copies.across * copies.down > 1 && {
      copies: { across: copies.across, down: copies.down },
    }),
    sure,
  };
}
