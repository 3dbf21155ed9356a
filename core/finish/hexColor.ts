import { z } from "zod";

/** A colour as sRGB, `#rrggbb`. */
export const hexColorSchema = z.string().regex(/^#[0-9a-f]{6}$/i, "A colour is written #rrggbb.");
