import { z } from "zod";
import { SIZE_STATES } from "#core/finish/material";
import { orderSchema, lineFactsSchema } from "#core/supply/catalogue";
import { type Db, rows } from "#server/db/database";

export const listSupplierNames = async (db: Db): Promise<string[]> =>
  (await rows(db, z.object({ name: z.string() }), "SELECT name FROM suppliers ORDER BY lower(name)")).map(
    ({ name }) => name,
  );

/** What is fetched, as an intake keeps it. */
export const fetchSchema = z.object({ order: orderSchema, supplier: z.string(), line: z.string() });

export type Fetch = z.infer<typeof fetchSchema>;

/** What a product sheet says of one variant, as a candidate and a material's source keep it. */
export const variantSheetSchema = z.object({
  supplier: z.object({ name: z.string(), page: z.string() }),
  line: lineFactsSchema,
  code: z.string(),
  name: z.string(),
  variant: z.record(z.string(), z.string()),
  color: z.string().nullable(),
  sheen: z.number().nullable(),
  heightAmplitudeMm: z.number().nullable(),
});

export type VariantSheet = z.infer<typeof variantSheetSchema>;

const heldSchema = z.object({
  id: z.string(),
  name: z.string(),
  supplier: z.string(),
  code: z.string(),
  variant: z.record(z.string(), z.string()),
});

/** A material that came from a supplier under a product code. */
export type Held = z.infer<typeof heldSchema>;

export const listHeld = (db: Db, supplier: string | null = null): Promise<Held[]> =>
  rows(
    db,
    heldSchema,
    `SELECT m.id, m.name, u.name AS supplier, s.product_code AS code, m.variant
       FROM sources s JOIN suppliers u ON u.id = s.supplier JOIN materials m ON m.source = s.id
      WHERE s.product_code IS NOT NULL AND m.deleted_at IS NULL AND ($1::text IS NULL OR u.name = $1)
      ORDER BY lower(m.name)`,
    [supplier],
  );

const siblingSchema = z.object({
  id: z.string(),
  name: z.string(),
  variant: z.record(z.string(), z.string()),
  sizeState: z.enum(SIZE_STATES),
});

/** The other variants of a material's line. */
export const listSiblings = (db: Db, material: string) =>
  rows(
    db,
    siblingSchema,
    `SELECT o.id, o.name, o.variant, r.size_state AS "sizeState" FROM materials m
      JOIN materials o ON o.line = m.line AND o.id <> m.id
      JOIN revisions r ON r.material = o.id AND r.number = o.revision
      WHERE m.id = $1 AND o.deleted_at IS NULL ORDER BY lower(o.name) LIMIT 200`,
    [material],
  );
