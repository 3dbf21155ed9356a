/** Equal distances at which a profile that goes on at its other side stands out. */
export interface Comb {
  count: number;
  /** Where the first one is, in samples. */
  first: number;
  /** Mean of the profile at its places. */
  level: number;
  /** The weakest of every second, or every third place, as a share of the mean. */
  weakest: number;
  /** As shares of the level: how much of a comb with two to five times as many places is there as well. */
  finer: number;
  /** What any place has in the mean. */
  ground: number;
  /** The next best comb of so many between its places, and the best after that, as shares of the level. */
  second: { level: number; offset: number };
  third: number;
  /** By how many spreads it stands above what is usual, as if its places were there by chance. */
  strength: number;
}

/** What a place may be off, as a share of the distance. */
const OFF = 0.08;
const MOST_OFF = 5;
/** What is still the same joint, as a share of the distance. */
const BESIDE = 0.12;

/** A profile with the highest value within a reach around each place: combs of like pitch share it. */
export interface Line {
  side: number;
  highest: (reach: number) => Highest;
}

interface Highest {
  data: Float32Array;
  mean: number;
  spread: number;
}

export function lineOf(profile: Float32Array): Line {
  const known = new Map<number, Highest>();
  return {
    side: profile.length,
    highest(reach) {
      const found = known.get(reach) ?? highestOf(profile, reach);
      known.set(reach, found);
      return found;
    },
  };
}

function highestOf(profile: Float32Array, reach: number): Highest {
  const side = profile.length;
  const data = new Float32Array(side);
  let mean = 0;
  for (let i = 0; i < side; i++) {
    let most = -Infinity;
    for (let k = i - reach; k <= i + reach; k++) {
      const value = profile[k < 0 ? k + side : k >= side ? k - side : k];
      if (value > most) most = value;
    }
    data[i] = most;
    mean += most / side;
  }
  let squares = 0;
  for (let i = 0; i < side; i++) squares += (data[i] - mean) ** 2 / side;
  return { data, mean, spread: Math.sqrt(squares) };
}

/** The best comb of so many places; undefined on a flat profile. */
export function combOf(line: Line, count: number): Comb | undefined {
  const { side } = line;
  const pitch = side / count;
  const reach = Math.max(1, Math.min(MOST_OFF, Math.round(OFF * pitch)));
  const { data: highest, mean, spread } = line.highest(reach);
  if (!(spread > 1e-6)) return undefined;
  const starts = Math.max(1, Math.floor(pitch));
  const levels = new Float32Array(starts);
  for (let k = 0; k < count; k++) {
    const from = Math.round(k * pitch);
    for (let start = 0, at = from; start < starts; start++, at++)
      levels[start] += highest[at < side ? at : at - side] / count;
  }
  const best = (isFree: (start: number) => boolean) => {
    let found = -1;
    for (let start = 0; start < starts; start++)
      if (isFree(start) && (found < 0 || levels[start] > levels[found])) found = start;
    return found;
  };
  const first = best(() => true);
  const level = levels[first];
  // A joint has a width of its own: what lies beside its place is the joint still.
  const near = Math.max(2 * reach + 3, Math.ceil(BESIDE * pitch));
  const apart = (a: number, b: number) => Math.min(Math.abs(a - b), starts - Math.abs(a - b));
  const next = best((start) => apart(start, first) > near);
  const last = next < 0 ? -1 : best((start) => apart(start, first) > near && apart(start, next) > near);
  const nearby = (offset: number) => {
    let most = -Infinity;
    for (let k = -1; k <= 1; k++)
      most = Math.max(most, levels[(Math.round(first + offset * starts) + k + 2 * starts) % starts]);
    return most / level;
  };
  let finer = 0;
  for (const times of [2, 3, 4, 5]) {
    if (pitch / times <= near) continue;
    let least = 1;
    for (let k = 1; k < times; k++) least = Math.min(least, nearby(k / times));
    finer = Math.max(finer, least);
  }
  const share = (start: number) => (start < 0 || !(level > 0) ? 0 : levels[start] / level);
  const lines = Array.from({ length: count }, (_, k) => highest[(first + Math.round(k * pitch)) % side]);
  return {
    count,
    first,
    level,
    weakest: weakestOf(lines, level),
    finer: level > 0 ? finer : 1,
    ground: level > 0 ? mean / level : 1,
    second: {
      level: share(next),
      offset: next < 0 ? 0 : ((((next - first) / pitch) % 1) + 1) % 1,
    },
    third: share(last),
    strength: ((level - mean) / spread) * Math.sqrt(count),
  };
}

/** A comb that is too fine by two or three misses every second or third place. */
function weakestOf(lines: number[], level: number): number {
  let weakest = 1;
  for (const every of [2, 3]) {
    if (lines.length % every !== 0) continue;
    for (let off = 0; off < every; off++) {
      let [sum, count] = [0, 0];
      for (let k = off; k < lines.length; k += every, count++) sum += lines[k];
      weakest = Math.min(weakest, sum / count / level);
    }
  }
  return weakest;
}
