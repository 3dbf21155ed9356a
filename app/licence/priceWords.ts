/** What a licence cost, in words. */
export const PRICE_WORDS = { free: "free", bought: "bought", unknown: "not known" } as const;
