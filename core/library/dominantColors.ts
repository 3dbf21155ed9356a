import { ciede2000, type Lab } from "#core/raster/ciede2000";
import { linearToLab } from "#core/raster/lab";

/** So many colours of a picture are told apart at most. */
const MOST_COLORS = 5;
/** Nearer together than this, two are one. */
const ONE_COLOR = 9;
/** So often the colours move: they hardly do afterwards. */
const ROUNDS = 3;

export interface DominantColor {
  lab: Lab;
  /** Of the area, 0..1. */
  share: number;
}

/**
 * The colours that a surface is of, the largest first: each of its parts goes to the nearest of a few, by CIEDE2000, which move to the
 * mean of what came to them.
 * @param parts colours of parts of equal area, in linear light; one at least
 */
export function dominantColors(parts: readonly (readonly [number, number, number])[]): DominantColor[] {
  const labs = parts.map(([r, g, b]): Lab => linearToLab(r, g, b));
  let middles = startingFrom(labs);
  let groups: Lab[][] = [];
  for (let round = 0; round < ROUNDS; round++) {
    groups = middles.map(() => []);
    for (const lab of labs) {
      const distances = middles.map((middle) => ciede2000(lab, middle));
      groups[distances.indexOf(Math.min(...distances))].push(lab);
    }
    groups = groups.filter((group) => group.length > 0);
    middles = groups.map(meanOf);
  }
  const colors = groups.map((group, at) => ({ lab: middles[at], share: group.length / labs.length }));
  return merged(colors).sort((x, y) => y.share - x.share);
}

/** From the middle of the whole, then always what is farthest from all that are there. */
function startingFrom(labs: readonly Lab[]): Lab[] {
  const middles = [meanOf(labs)];
  const nearest = labs.map((lab) => ciede2000(lab, middles[0]));
  while (middles.length < MOST_COLORS) {
    const far = Math.max(...nearest);
    if (far <= ONE_COLOR) break;
    const middle = labs[nearest.indexOf(far)];
    middles.push(middle);
    for (const [at, lab] of labs.entries()) nearest[at] = Math.min(nearest[at], ciede2000(lab, middle));
  }
  return middles;
}

function meanOf(labs: readonly Lab[]): Lab {
  const mean = (axis: 0 | 1 | 2) => labs.reduce((total, lab) => total + lab[axis], 0) / labs.length;
  return [mean(0), mean(1), mean(2)];
}

/** Two that nobody tells apart become one, until there are none. */
function merged(colors: DominantColor[]): DominantColor[] {
  for (const [i, one] of colors.entries())
    for (const other of colors.slice(i + 1)) {
      if (ciede2000(one.lab, other.lab) > ONE_COLOR) continue;
      const share = one.share + other.share;
      const mean = (axis: 0 | 1 | 2) => (one.lab[axis] * one.share + other.lab[axis] * other.share) / share;
      const others = colors.filter((color) => color !== one && color !== other);
      return merged([...others, { lab: [mean(0), mean(1), mean(2)], share }]);
    }
  return colors;
}
