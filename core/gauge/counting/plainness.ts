import type { Comb } from "#core/gauge/counting/combs";

/** How plainly a comb is the whole of what a profile holds: strong, without gaps, and with nothing between. */
export const plainness = ({ level, weakest, second, ground }: Comb): number =>
  level *
  share(weakest) *
  (1 - Math.max(share(second.level) * (isBeside(second) ? BESIDE : 1), share(ground)));

/** A bed may be two edges, with a bevel between: a second comb beside the first is no other bed, and only one half-way is. */
export const bedPlainness = ({ level, weakest, second, finer, ground }: Comb): number =>
  level * share(weakest) * (1 - Math.max(share(finer), share(ground), BESIDE * share(second.level)));
const BESIDE = 0.6;

/** So near, as a part of the distance, a second comb may be the other edge of a wide joint. */
const NEAR = 0.2;
const isBeside = ({ offset }: Comb["second"]) => Math.min(offset, 1 - offset) < NEAR;

/** Cut to 0..1. */
export const share = (value: number) => Math.max(0, Math.min(1, value));

/** Few places may be strong by chance: many that are less so say more. */
const claimOf = (comb: Comb, worth: number) => worth * Math.sqrt(Math.max(0, comb.strength));
export const bedClaim = (comb: Comb): number => claimOf(comb, bedPlainness(comb));
export const headClaim = (comb: Comb): number => claimOf(comb, plainness(comb));
