/** The signs in their order, and networks that weigh them. */
export interface Weights {
  signs: readonly string[];
  networks: readonly Network[];
}

/** How much speaks for a candidate: a sum of its signs, and of curves of such sums. */
export interface Network {
  straight: readonly number[];
  units: readonly { weights: readonly number[]; offset: number; out: number }[];
}
