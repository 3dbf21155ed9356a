/** What kind of thing a material is, as the library tells them apart. */
export const FAMILIES = [
  "brick",
  "stone",
  "timber",
  "plaster",
  "tile",
  "metal",
  "fabric",
  "paint",
  "ground",
] as const;

export type Family = (typeof FAMILIES)[number];
