import { z } from "zod";
import { FORMAT_KINDS, FORMATS, type Format } from "#core/gauge/formats";
import type { Person } from "#server/auth/person";
import { database, oneRow, rows, violates, type Db } from "#server/db/database";
import { nameSchema, size } from "#server/http/api/shapes";
import { badField, notFound } from "#server/problem";

const mm = z.number().positive("A length is more than 0.").max(20_000, "No piece is longer than 20 m.");
const sides = z
  .strictObject({ width: mm.optional(), height: mm.optional() })
  .refine(({ width, height }) => (width ?? height) !== undefined, "Give a width, a height, or both.");
const joint = z.number().min(0, "A joint is 0 or more.").max(500).optional();

/** A module that a studio works with: with its joints, or by the part that shows. */
export const newFormatSchema = z
  .strictObject({
    ...{ name: nameSchema, kind: z.enum(FORMAT_KINDS) },
    ...{ workSize: sides.optional(), joint, jointVertical: joint, coverSize: sides.optional() },
  })
  .refine(
    ({ workSize, coverSize }) => (workSize === undefined) !== (coverSize === undefined),
    "Give the work size with its joint, or the cover size.",
  );
export type NewFormat = z.infer<typeof newFormatSchema>;

const rowSchema = z.object({
  id: z.string(),
  name: z.string(),
  kind: z.enum(FORMAT_KINDS),
  module: z.object({
    workSize: size.partial().optional(),
    joint: z.number().optional(),
    jointVertical: z.number().optional(),
    coverSize: size.partial().optional(),
  }),
  madeBy: z.string(),
});

/** A format of the studio's own. */
export interface OwnFormat extends Format {
  madeBy: string;
}

export async function listOwnFormats(db: Db): Promise<OwnFormat[]> {
  const found = await rows(
    db,
    rowSchema,
    `SELECT f.id, f.name, f.kind, f.module, p.name AS "madeBy" FROM own_formats f JOIN people p ON p.id = f.made_by ORDER BY lower(f.name)`,
  );
  return found.map(({ module, madeBy, ...format }) => ({
    ...{ ...format, ...module, madeBy },
    source: `the studio’s own, by ${madeBy}`,
  }));
}

/** The studio's own formats, and then the standard ones. */
export const listFormats = async (db: Db): Promise<Format[]> => [
  ...(await listOwnFormats(db)).map(({ madeBy: _, ...format }) => format),
  ...FORMATS,
];

/** @throws {Problem} where a format of the studio has that name */
export async function createFormat({ name, kind, ...module }: NewFormat, person: Person): Promise<Format> {
  try {
    const made = await oneRow(
      database(),
      z.object({ id: z.string() }),
      "INSERT INTO own_formats (name, kind, module, made_by) VALUES ($1, $2, $3, $4) RETURNING id",
      [name, kind, JSON.stringify(module), person.id],
    );
    return (await listFormats(database())).find(({ id }) => id === made!.id)!;
  } catch (error) {
    if (violates(error, "own_formats_name"))
      throw badField("/name", `A format is called “${name}” already. Give this one another name.`);
    throw error;
  }
}

/** Sizes that were found by it stay. @throws {Problem} 404 */
export async function deleteFormat(id: string): Promise<void> {
  const { rowCount } = await database().query("DELETE FROM own_formats WHERE id = $1", [id]);
  if (rowCount !== 1) throw notFound("format");
}
