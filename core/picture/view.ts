export const SHAPES = ["panel", "block", "drape"] as const;

/** What is to be seen, and how large. */
export interface View {
  shape: (typeof SHAPES)[number];
  width: number;
  height: number;
  /** Of the plane of the panel, or of the block's front. */
  mmPerPx: number;
  /** What lies in the middle of a panel or of a drape, in millimetres from the material's top left corner, to the right and down. */
  centre: { x: number; y: number };
  /** Cards of 18 % grey and of white lie on a panel's lower left corner. */
  cards: boolean;
}
