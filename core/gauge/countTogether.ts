import { findModules, SURE, type ModuleCount } from "#core/gauge/findModules";
import type { Plane } from "#core/raster/plane";

/** What a picture and the height beside it repeat. */
export interface CountedTogether {
  count: ModuleCount;
  /** What the height holds where it is another number than in the picture: then they do not belong together. */
  heightCount?: ModuleCount;
}

/** Counts modules in a picture and its height, together where they agree. @param height of the picture's size */
export function countTogether(base: Plane, height: Plane | undefined): CountedTogether {
  if (!height) return { count: findModules([base]) };
  const [inBase, inHeight] = [findModules([base]), findModules([height])];
  if (saysSame(inBase, inHeight)) return { count: { ...inBase, sure: Math.max(inBase.sure, inHeight.sure) } };
  if (inBase.sure >= SURE && inHeight.sure >= SURE) return { count: inBase, heightCount: inHeight };
  const together = findModules([base, height]);
  // What neither holds by itself comes of laying two patterns over each other.
  const isEither = saysSame(together, inBase) || saysSame(together, inHeight);
  return { count: isEither ? together : inBase };
}

const saysSame = (a: ModuleCount, b: ModuleCount) => a.across === b.across && a.down === b.down;
