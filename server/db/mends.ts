import { z } from "zod";
import { mendRecipeSchema, type MendRecipe } from "#core/mend/recipe";
import { oneRow, rows, violates, type Db } from "#server/db/database";
import type { NewRevision } from "#server/db/materials";
import { conflict } from "#server/problem";

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

export async function insertMend(
  db: Db,
  mend: { material: string; revision: number; recipe: MendRecipe; person: string; lookFirst: boolean },
): Promise<string> {
  // What was looked at and left lying makes room for the next.
  await db.query(
    "UPDATE mends SET failure = $2, ended_at = now() WHERE material = $1 AND proposal IS NOT NULL AND ended_at IS NULL",
    [mend.material, NOT_KEPT],
  );
  try {
    const row = await oneRow(
      db,
      z.object({ id: z.string() }),
      "INSERT INTO mends (material, from_revision, recipe, person, look_first) VALUES ($1, $2, $3, $4, $5) RETURNING id",
      [mend.material, mend.revision, JSON.stringify(mend.recipe), mend.person, mend.lookFirst],
    );
    return row!.id;
  } catch (error) {
    if (violates(error, "mends_running"))
      throw conflict("This material is being mended already. Wait until that is done.");
    throw error;
  }
}

export const NOT_KEPT = "It was looked at, and not kept.";

/** Holds what a mend came to, to be looked at. */
export async function proposeMend(db: Db, id: string, proposal: MendProposal): Promise<void> {
  await db.query("UPDATE mends SET proposal = $2 WHERE id = $1 AND ended_at IS NULL", [
    id,
    JSON.stringify(proposal),
  ]);
}

export async function endMend(
  db: Db,
  id: string,
  end: { toRevision: number; figures: MendFigures } | { failure: string },
): Promise<void> {
  const done = "toRevision" in end;
  await db.query(
    "UPDATE mends SET to_revision = $2, figures = $3, failure = $4, ended_at = now() WHERE id = $1 AND ended_at IS NULL",
    [id, done ? end.toRevision : null, done ? JSON.stringify(end.figures) : null, done ? null : end.failure],
  );
}
