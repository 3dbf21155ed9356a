import { z } from "zod";
import { ROLES } from "#core/roles/roles";

/**
 * What a supplier's service says of its products: lines, each with its products, and each product in one or more joint
 * colours. The same shapes are used by whoever offers and by whoever reads; what is read is checked against them.
 */

const words = (most: number) => z.string().trim().min(1).max(most);
const id = z.string().regex(/^[A-Za-z0-9][A-Za-z0-9-]{0,79}$/, "Letters, digits and hyphens.");
const hex = z.string().regex(/^#[0-9a-f]{6}$/i);
const lengthMm = z.number().positive().max(100_000);
const sizeMm = z.object({ width: lengthMm, height: lengthMm });
const page = z
  .string()
  .max(500)
  .refine((text) => /^https?:\/\//.test(text), "An address begins with http:// or https://.");

export const FAMILIES = ["brick", "paving", "tile", "timber", "plaster", "roofing", "paint"] as const;
export type Family = (typeof FAMILIES)[number];

export const USES = ["wall inside", "floor inside", "wall outside", "ground outside", "roof"] as const;
/** Frost resistance of clay units, EN 771-1: from none to severe exposure. */
export const FROST_CLASSES = ["F0", "F1", "F2"] as const;
/** Slip resistance on the ramp, DIN 51130: the higher the steeper. */
export const SLIP_CLASSES = ["R9", "R10", "R11", "R12", "R13"] as const;
/** Reaction to fire, EN 13501-1, the best first. */
export const FIRE_CLASSES = ["A1", "A2", "B", "C", "D", "E", "F"] as const;

export const propertiesSchema = z.object({
  /** Surface grade: sawn, honed, glazed and so on. */
  grade: words(60).nullable(),
  use: z.array(z.enum(USES)),
  frost: z.enum(FROST_CLASSES).nullable(),
  slip: z.enum(SLIP_CLASSES).nullable(),
  fire: z.enum(FIRE_CLASSES).nullable(),
  thicknessMm: lengthMm.nullable(),
});
export type Properties = z.infer<typeof propertiesSchema>;

const offeredLicenceSchema = z.object({
  name: words(120),
  price: z.enum(["free", "bought"]),
  credit: z.string().max(200).nullable(),
});

export const FILE_TYPES = ["png", "jpeg", "tiff"] as const;
export type FileType = (typeof FILE_TYPES)[number];

const jointColourSchema = z.object({ id, name: words(60), hex });

export const productSchema = z.object({
  code: id,
  name: words(160),
  colour: words(80),
  hex,
  /** Colours of the joint that it comes with; empty where it has none. */
  joints: z.array(jointColourSchema).max(12),
  /** Gloss units at 60° (ISO 2813), for plain colours. */
  sheen: z.number().min(0).max(100).nullable(),
});
export type Product = z.infer<typeof productSchema>;

/** What all products of a line share. */
export const lineFactsSchema = z.object({
  name: words(120),
  family: z.enum(FAMILIES),
  text: z.string().max(2000),
  page,
  layout: z.enum(["repeating", "plain"]),
  licence: offeredLicenceSchema,
  properties: propertiesSchema,
  /** One piece without its joint. */
  workSize: sizeMm.nullable(),
  jointMm: z.number().min(0).max(200).nullable(),
  /** The part of a lapped piece that shows. */
  coverSize: sizeMm.nullable(),
  /** Whole modules in the pictures, where the supplier says so. */
  picture: z
    .object({ across: z.number().int().min(1).max(1000), up: z.number().int().min(1).max(1000) })
    .nullable(),
});
export type LineFacts = z.infer<typeof lineFactsSchema>;

export const lineSchema = lineFactsSchema.extend({
  id,
  supplier: words(120),
  /** What can be fetched. */
  pixels: z.array(z.number().int().min(16).max(16384)).max(8),
  roles: z.array(z.enum(ROLES)),
  types: z.array(z.enum(FILE_TYPES)),
  products: z.array(productSchema).min(1).max(2000),
});
export type Line = z.infer<typeof lineSchema>;

export const catalogueSchema = z.object({
  suppliers: z.array(z.object({ name: words(120), page, place: z.string().max(120) })).max(200),
  lines: z.array(lineSchema).max(2000),
});
export type Catalogue = z.infer<typeof catalogueSchema>;

/** One variant of a line: a product with one colour of joint. */
const wantedSchema = z.object({ code: id, joint: id.nullable() });
export type Wanted = z.infer<typeof wantedSchema>;

/** What somebody asks for. */
export const orderSchema = z.object({
  line: id,
  products: z.array(wantedSchema).min(1).max(500),
  pixels: z.number().int().min(16).max(16384),
  roles: z.array(z.enum(ROLES)).max(20),
  type: z.enum(FILE_TYPES),
});
export type Order = z.infer<typeof orderSchema>;

/** In what a variant differs from the others of its line. */
export function variantOf(product: Pick<Product, "colour" | "joints">, joint: string | null) {
  const found = product.joints.find(({ id }) => id === joint);
  return { colour: product.colour, ...(found && { joint: found.name }) };
}

/** A key for comparing variants: the same for two that are one. */
export const keyOf = (code: string, joint: string | null) => (joint === null ? code : `${code}/${joint}`);
