import { cut } from "#core/gauge/counting/candidate";
import type { Verified } from "#core/gauge/counting/verifyLattice";

/** How well the picture goes into itself. */
export function likeSigns({ likeness, weakestLikeness, mean, weakest, between }: Verified) {
  return {
    like: 2 * cut(likeness, -0.1, 0.5),
    weakLike: 2 * cut(weakestLikeness, -0.1, 0.5),
    holds: likeness > 0 ? cut(weakestLikeness / likeness, -1, 1) : -1,
    standsOut: cut(mean, -1, 8) / 4,
    weakStandsOut: cut(weakest, -1, 8) / 4,
    between: cut(between, -2, 8) / 4,
    isLike: 1,
  };
}
