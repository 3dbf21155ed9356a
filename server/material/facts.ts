import { z } from "zod";
import { FAMILIES } from "#core/finish/family";
import { PRICES } from "#core/library/licence";
import { inTransaction } from "#server/db/database";
import { insertLicence } from "#server/licence/writes";
import { overtaken } from "#server/jobs/overtaken";
import { updateFamilyAndTags, updateSource } from "#server/material/writes";
import { findMaterial, type MaterialRow } from "#server/material/queries";
import { findOrInsertSupplier } from "#server/supplier/writes";
import { announce } from "#server/events/events";
import { notFound } from "#server/problem";

const text = (most: number) =>
  z
    .string()
    .trim()
    .min(1, "Leave it out where there is none.")
    .max(most, `At most ${most} characters are kept.`);

/** A studio's own word on a material. */
export const tagSchema = text(40).regex(
  /^[^,]*$/,
  "A tag has no comma in it: several are written one by one.",
);
export const MOST_TAGS = 30;

/** A licence that is new to the studio. */
const newLicenceSchema = z.strictObject({
  name: text(200),
  price: z.enum(PRICES).default("unknown"),
  project: z.uuid("is not an id").nullable().default(null),
  endsOn: z.iso.date("A day is written 2027-03-31.").nullable().default(null),
  credit: text(200).nullable().default(null),
});

/** Where a material comes from and what may be done with it; what is not named stays, and null takes a fact away. */
export const factsSchema = z
  .strictObject({
    supplier: text(200).nullable(),
    product: text(200).nullable(),
    productCode: text(200).nullable(),
    page: z
      .url({ protocol: /^https?$/, error: "A page begins with https:// or http://." })
      .max(1000)
      .nullable(),
    licence: z.union([z.strictObject({ id: z.uuid("is not an id") }), newLicenceSchema]).nullable(),
    /** Null: of none of them. */
    family: z.enum(FAMILIES).nullable(),
    tags: z.array(tagSchema).max(MOST_TAGS, `At most ${MOST_TAGS} tags are kept.`),
  })
  .partial();
export type FactsChange = z.infer<typeof factsSchema>;

/** As they were written first, in the order of the alphabet. */
export function eachOnce(tags: readonly string[]): string[] {
  const known = new Map<string, string>();
  for (const tag of tags) if (!known.has(tag.toLowerCase())) known.set(tag.toLowerCase(), tag);
  return [...known.values()].sort((a, b) => a.localeCompare(b, "en"));
}

/**
 * Changes the facts of a material. They belong to it and not to a revision: who used it before has to know as well.
 * @throws {Problem}
 */
export async function changeFacts(
  id: string,
  { supplier, licence, family, tags, ...rest }: FactsChange,
): Promise<MaterialRow> {
  return inTransaction(async (db) => {
    const source = {
      ...rest,
      ...(supplier !== undefined && {
        supplier: supplier === null ? null : await findOrInsertSupplier(db, supplier, null),
      }),
      ...(licence !== undefined && {
        licence: licence === null ? null : "id" in licence ? licence.id : await insertLicence(db, licence),
      }),
    };
    if (!(await updateSource(db, id, source))) throw notFound("material");
    if (family !== undefined || tags)
      await updateFamilyAndTags(db, id, { family, tags: tags && eachOnce(tags) });
    await announce(db, { topic: "library", id });
    // A material file may carry them.
    await overtaken(db);
    return (await findMaterial(db, id))!;
  });
}
