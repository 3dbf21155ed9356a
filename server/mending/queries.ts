import { z } from "zod";
import { mendRecipeSchema } from "#core/mend/recipe";
import { type Db, oneRow, rows } from "#server/db/database";
import type { NewRevision } from "#server/material/writes";

const moduleSchema = z.object({ pitch: z.number(), modules: z.number() });

/**
 * How likely it is that the base color does not continue (not kept with what was mended before that was measured), and how much it
 * gives its tiling away.
 */
const judgedSchema = z.object({ broken: z.number().optional(), giveaway: z.number() });

export const mendFiguresSchema = z.object({
  before: judgedSchema,
  after: judgedSchema,
  /** Pixels given up across and down. */
  overlap: z.object({ across: z.number(), down: z.number() }),
  /** What a crop left, with the pitch in pixels. */
  modules: z.object({ across: moduleSchema.optional(), down: moduleSchema.optional() }).optional(),
});

export type MendFigures = z.infer<typeof mendFiguresSchema>;

/** What a mend came to, and is not kept yet. */
export interface MendProposal extends Pick<NewRevision, "maps" | "repeat" | "finish" | "findings"> {
  figures: MendFigures;
}

const mendSchema = z.object({
  id: z.string(),
  material: z.string(),
  fromRevision: z.number(),
  toRevision: z.number().nullable(),
  recipe: mendRecipeSchema,
  figures: mendFiguresSchema.nullable(),
  failure: z.string().nullable(),
  /** Whether it is shown before it is kept, and then what there is to look at. */
  lookFirst: z.boolean(),
  proposal: z.custom<MendProposal>().nullable(),
  person: z.string(),
  personId: z.string(),
  askedAt: z.date(),
});

export type MendRow = z.infer<typeof mendSchema>;

const MEND = `SELECT n.id, n.material, n.from_revision AS "fromRevision", n.to_revision AS "toRevision", n.recipe, n.figures,
    n.failure, n.look_first AS "lookFirst", n.proposal, p.name AS person, n.person AS "personId", n.asked_at AS "askedAt"
  FROM mends n JOIN people p ON p.id = n.person`;

export const findMend = (db: Db, id: string) => oneRow(db, mendSchema, `${MEND} WHERE n.id = $1`, [id]);

export const listMends = (db: Db, material: string) =>
  rows(db, mendSchema, `${MEND} WHERE n.material = $1 ORDER BY n.asked_at DESC LIMIT 20`, [material]);
