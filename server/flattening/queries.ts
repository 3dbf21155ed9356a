import { z } from "zod";
import { flattenRecipeSchema, flattenFiguresSchema } from "#core/photo/recipe";
import { type Db, oneRow, rows } from "#server/db/database";

export const flatteningSchema = z.object({
  id: z.string(),
  photo: z.string(),
  photoRevision: z.number(),
  recipe: flattenRecipeSchema,
  share: z.number(),
  made: z.string().nullable(),
  figures: flattenFiguresSchema.nullable(),
  failure: z.string().nullable(),
  person: z.string(),
  personId: z.string(),
});

export type FlatteningRow = z.infer<typeof flatteningSchema>;

const FLATTENING = `SELECT f.id, f.photo, f.photo_revision AS "photoRevision", f.recipe, f.share, f.made, f.figures, f.failure,
    p.name AS person, f.person AS "personId"
  FROM flattenings f JOIN people p ON p.id = f.person`;

export const findFlattening = (db: Db, id: string) =>
  oneRow(db, flatteningSchema, `${FLATTENING} WHERE f.id = $1`, [id]);

export const listFlattenings = (db: Db, photo: string) =>
  rows(db, flatteningSchema, `${FLATTENING} WHERE f.photo = $1 ORDER BY f.asked_at DESC LIMIT 50`, [photo]);
