import { type Candidate, statementOf } from "#core/gauge/counting/candidate";
import type { Weights, Network } from "#core/gauge/counting/network";
import { WEIGHTS } from "#core/gauge/counting/weights";

/** What is said, and how likely it is right. */
export interface Chosen {
  candidate: Candidate;
  /** 0..1 */
  sure: number;
}

/**
 * The networks, kept from knowing their examples by heart, are more careful than they need be: in a threefold cross-validation on what they
 * were fitted to, shares that are raised to this power come nearest to how often they hold.
 */
const CAREFUL = 1.2;

/**
 * Chooses among candidates. Each is weighed, together with the possibility that none of them is right, and the shares of those that say
 * the same are added up. `bench/calibrate.ts` fits the weights, so that the shares are how often it is right.
 * @param candidates at least that nothing repeats
 */
export function choose(candidates: readonly Candidate[], weights: Weights = WEIGHTS): Chosen {
  const shares = sharesOf(candidates, weights);
  const statements = new Map<string, { candidate: Candidate; best: number; sure: number }>();
  candidates.forEach((candidate, i) => {
    const said = statementOf(candidate);
    const one = statements.get(said) ?? { candidate, best: 0, sure: 0 };
    one.sure += shares[i];
    // Of those that say the same, the likeliest tells the bond.
    if (shares[i] > one.best) Object.assign(one, { candidate, best: shares[i] });
    statements.set(said, one);
  });
  const all = [...statements.values()].sort((a, b) => b.sure - a.sure);
  const none = Math.max(0, 1 - all.reduce((sum, { sure }) => sum + sure, 0));
  const total = [none, ...all.map(({ sure }) => sure)].reduce((sum, share) => sum + share ** CAREFUL, 0);
  return { candidate: all[0].candidate, sure: all[0].sure ** CAREFUL / total };
}

/** The share of each candidate, as the mean over the networks; they add up to less than 1, and the rest is that none is right. */
function sharesOf(candidates: readonly Candidate[], { signs: names, networks }: Weights): number[] {
  const all = weighedSigns(candidates).map((signs) => names.map((name) => signs[name] ?? 0));
  const sums = candidates.map(() => 0);
  for (const network of networks) {
    const worths = all.map((values) => worthOf(values, network));
    const most = Math.max(...worths);
    const shares = worths.map((worth) => Math.exp(worth - most));
    const total = shares.reduce((sum, share) => sum + share, 0);
    sums.forEach((_, i) => (sums[i] += shares[i] / total / networks.length));
  }
  return sums;
}

/** The signs of all candidates with their kinds, and last those of none of them being right. */
export function weighedSigns(candidates: readonly Candidate[]): Record<string, number>[] {
  const around = candidates.find(({ kind }) => kind === "nothing")!.signs;
  const unknown = Object.entries(around).map(([name, value]) => [`unknown ${name}`, value] as const);
  return [
    ...candidates.map(({ kind, signs }) => ({ ...signs, [`is ${kind}`]: 1 })),
    { ...Object.fromEntries(unknown), "is unknown": 1 },
  ];
}

function worthOf(values: readonly number[], { straight, units }: Network): number {
  const sum = (weights: readonly number[]) => values.reduce((all, value, i) => all + value * weights[i], 0);
  return units.reduce(
    (worth, { weights, offset, out }) => worth + out * Math.tanh(sum(weights) + offset),
    sum(straight),
  );
}
