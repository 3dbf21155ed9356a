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

/** Whether one may be made in the pieces of another, as far as anybody knows: what is of timber is sawn, and nothing else is. */
export const mayShareModules = (one: Family | null, other: Family | null): boolean =>
  one === null || other === null || (one === "timber") === (other === "timber");
