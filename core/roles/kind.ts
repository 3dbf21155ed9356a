/** What a role is: everything that the program knows of it, in a file of its own. */
export interface RoleKind {
  /** The word that people read. */
  name: string;
  /**
   * "color": colours, encoded as sRGB and averaged in linear light; "grey": one linear value, so that colour in it is a mistake;
   * "vectors": unit vectors; "data": linear data that may have colours.
   */
  holds: "color" | "grey" | "vectors" | "data";
  /**
   * The usual words and abbreviations in file names, in English, German, French, Spanish and Italian, without accents, separated by
   * "|". Words that also describe a material in plain language ("metal", "rough") are weak: another file of the same name outvotes them.
   */
  words?: {
    certain?: string;
    usual?: string;
    weak?: string;
    /** Certain words that also say which way green points. */
    plusY?: string;
    minusY?: string;
    /** Short words at the end of a longer one, where they may as well belong to it: heard, and believed where siblings agree. */
    glued?: string;
  };
  /** The inputs of surfaces that mean it, in material files. */
  inputs?: { materialX?: readonly string[]; usd?: readonly string[] };
}
