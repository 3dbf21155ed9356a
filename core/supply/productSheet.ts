import { Refusal } from "#core/text/refusal";
import { z } from "zod";
import { plainJson, plainLine } from "#core/text/plainText";
import { ROLES } from "#core/roles/roles";
import { lineFactsSchema } from "#core/supply/catalogue";

/** The name of the sheet in a package. */
export const SHEET_NAME = "product-sheet.json";

export const sheetFileSchema = z.object({
  /** Where it is in the package. */
  path: z
    .string()
    .regex(/^[A-Za-z0-9][A-Za-z0-9._/-]{0,200}$/)
    .refine((path) => !path.split("/").includes(".."), "A path stays inside the package."),
  role: z.enum(ROLES),
  sha256: z.string().regex(/^[0-9a-f]{64}$/),
  bytes: z.number().int().nonnegative(),
  normalDirection: z.enum(["+Y", "-Y"]).nullable(),
});
export type SheetFile = z.infer<typeof sheetFileSchema>;

/** The facts of a package: its line, and its products with their files. Files that the asker has already are listed, too. */
export const productSheetSchema = z.object({
  sheet: z.literal(1),
  supplier: z.object({ name: z.string().trim().min(1).max(120), page: z.string().max(500) }),
  line: lineFactsSchema,
  products: z
    .array(
      z.object({
        code: z.string().min(1).max(80),
        name: z.string().trim().min(1).max(160),
        variant: z.record(z.string().max(40), z.string().max(120)),
        /** The colour of a plain product. */
        color: z
          .string()
          .regex(/^#[0-9a-f]{6}$/i)
          .nullable(),
        sheen: z.number().min(0).max(100).nullable(),
        /** Real difference between the lowest and the highest value of the height map. */
        heightAmplitudeMm: z.number().min(0).max(1000).nullable(),
        files: z.array(sheetFileSchema).max(30),
      }),
    )
    .min(1)
    .max(500),
});
export type ProductSheet = z.infer<typeof productSheetSchema>;

/** @throws with what is wrong, by the place in the sheet */
export function readProductSheet(text: string): ProductSheet {
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch {
    throw new Refusal("The product sheet is no JSON.");
  }
  const read = productSheetSchema.safeParse(plainJson(json));
  if (read.success) return read.data;
  const [issue] = read.error.issues;
  const place = plainLine(issue.path.join("/"), 120) || "the whole of it";
  throw new Refusal(`The product sheet does not fit: “${place}” is missing, or is not what belongs there.`);
}
