/** The whites that colours are measured against: CIE standard illuminants, seen by the 2° observer. */
export const WHITES = ["D50", "D65"] as const;
export type White = (typeof WHITES)[number];
