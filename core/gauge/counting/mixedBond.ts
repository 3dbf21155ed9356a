import { combOf, lineOf, type Line } from "#core/gauge/counting/combs";
import { laid, type Heads } from "#core/gauge/counting/courses";
import { plainness, share } from "#core/gauge/counting/plainness";

/** A bond of two kinds of pieces, with how plainly each kind is there. */
export interface Mixed {
  bond: "english" | "flemish";
  heads: Heads;
  /** Of stretchers' heads and of headers'; of Flemish bond of both heads of a pair, and how far the second stands from its place. */
  plain: { few: number; many: number };
  off: number;
}

/**
 * Stretchers and headers in turn from course to course: few heads in every second course, and twice as many between.
 * @param counts numbers of stretchers that are tried
 */
export function englishBond(profiles: Float32Array[], counts: number[]): Mixed | undefined {
  if (profiles.length % 2 !== 0) return undefined;
  const [even, odd] = [0, 1].map((off) =>
    lineOf(
      laid(
        profiles.filter((_, course) => course % 2 === off),
        () => 0,
      ),
    ),
  );
  const read = (few: Line, many: Line, count: number): Mixed | undefined => {
    const [stretchers, headers] = [combOf(few, count), combOf(many, 2 * count)];
    if (!stretchers || !headers) return undefined;
    const plain = { few: plainness(stretchers), many: plainness(headers) };
    return {
      bond: "english",
      heads: { ...stretchers, turns: 0, steps: 1 },
      plain,
      off: 0,
    };
  };
  return best(counts.flatMap((count) => [read(even, odd, count), read(odd, even, count)]));
}

/** Where the second head of a pair stands: a header is half a stretcher, so it takes a third of both. */
const HEADER = 1 / 3;
const FARTHEST = 0.1;

/** A stretcher and a header in turn in each course: pairs of heads, shifted by half a pair. */
export function flemishBond(heads: Heads[]): Mixed | undefined {
  return best(
    heads
      .filter(({ steps, count }) => steps === 2 && count > 1)
      .map((pair): Mixed | undefined => {
        const { level, weakest, second, third } = pair;
        const off = Math.abs(Math.min(second.offset, 1 - second.offset) - HEADER);
        if (off > FARTHEST) return undefined;
        const few = level * share(weakest) * (1 - share(third));
        return {
          bond: "flemish",
          heads: pair,
          plain: { few, many: few * share(second.level) },
          off,
        };
      }),
  );
}

function best(found: (Mixed | undefined)[]): Mixed | undefined {
  const worth = ({ plain, heads }: Mixed) =>
    Math.min(plain.few, plain.many) * Math.sqrt(Math.max(0, heads.strength));
  return found.filter((one) => one !== undefined).sort((a, b) => worth(b) - worth(a))[0];
}
