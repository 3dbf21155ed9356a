export const SHAPES = ["panel", "wall", "block", "drape", "leaf", "pane"] as const;

/** What is to be seen, and how large. */
export interface View {
  shape: (typeof SHAPES)[number];
  width: number;
  height: number;
  /** Of the plane of the panel, of the block's front, of a wall's middle, or of the plane that something bent stands before. */
  mmPerPx: number;
  /** What lies in the middle, in millimetres from the material's top left corner, to the right and down; of a block and of a wall, at its upper left corner. */
  centre: { x: number; y: number };
  /** Cards of 18 % grey and of white lie on a panel's lower left corner. */
  cards: boolean;
  /** How a block is turned under its light, or a wall before the eye, in degrees: to the right, and towards the eye. Others stand still. */
  turn?: { right: number; down: number };
}

/** So much of a view's width is a block's, and a wall's that is seen from straight ahead. */
export const BLOCK_SHARE = 0.6;
export const WALL_SHARE = 0.84;
/** So much of the smaller side is filled by one repeat of a sheet that is bent as a leaf. */
export const LEAF_SHARE = 0.8;

/** Whether a shape begins with whole pieces at its corner, in place of what lies in the middle of a view. */
export const isOfWholePieces = (shape: View["shape"]): boolean => shape === "block" || shape === "wall";
