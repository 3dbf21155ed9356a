import { z } from "zod";
import { FAMILIES } from "#core/finish/family";
import { PRICES } from "#core/library/licence";
import { inTransaction } from "#server/db/database";
import { insertLicence } from "#server/licence/writes";
import { overtaken } from "#server/jobs/overtaken";
import { updateFamilyAndTags, updateSource } from "#server/material/writes";
import { findMaterial, lockMaterial, type MaterialRow } from "#server/material/queries";
import { findOrInsertSupplier } from "#server/supplier/writes";
import { announce } from "#server/events/events";
import { conflict, notFound } from "#server/problem";

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

/** What somebody had before them when they began to change facts. */
export const factsSeenSchema = z.object({
  ...{ supplier: z.string().nullable(), product: z.string().nullable(), productCode: z.string().nullable() },
  ...{ page: z.string().nullable(), family: z.enum(FAMILIES).nullable(), tags: z.array(z.string()) },
  licence: z.string().nullable(),
});
export type FactsSeen = z.infer<typeof factsSeenSchema>;

/** The facts of a material as they are compared. */
const factsSeenOf = ({ source, family, tags, licence }: MaterialRow): FactsSeen => ({
  ...{
    supplier: source.supplier,
    product: source.product,
    productCode: source.productCode,
    page: source.page,
  },
  ...{ family, tags, licence: licence?.id ?? null },
});

/** With whether they have been told of what was changed meanwhile, and write over it. */
type Seen = FactsSeen & { isOver: boolean };

const FACT_WORDS: Record<keyof FactsSeen, string> = {
  ...{ supplier: "supplier", product: "product", productCode: "product code", page: "page" },
  ...{ family: "family", tags: "tags", licence: "licence" },
};

/** What of a change is one, against what its writer had seen. @throws {Problem} where somebody has changed the same meanwhile */
function ownChange(change: FactsChange, { isOver, ...seen }: Seen, now: FactsSeen): FactsChange {
  const own: FactsChange = {};
  const isSame = (one: unknown, other: unknown) => JSON.stringify(one) === JSON.stringify(other);
  for (const field of Object.keys(FACT_WORDS) as (keyof FactsSeen)[]) {
    const given = change[field];
    if (given === undefined) continue;
    const mine = field === "licence" && change.licence && "id" in change.licence ? change.licence.id : given;
    if (isSame(mine, seen[field])) continue;
    if (!isOver && !isSame(now[field], seen[field]) && !isSame(now[field], mine)) {
      const is = field === "licence" ? "another one" : (now[field] ?? []).toString() || "none";
      throw conflict(
        `The ${FACT_WORDS[field]} was changed meanwhile: it is ${is} now. Save once more to write over that.`,
        `/${field}`,
      );
    }
    Object.assign(own, { [field]: given });
  }
  return own;
}

/**
 * Changes the facts of a material. They belong to it and not to a revision: who used it before has to know as well.
 * @param seen undefined writes all that is named
 * @throws {Problem}
 */
export async function changeFacts(id: string, change: FactsChange, seen?: Seen): Promise<MaterialRow> {
  return inTransaction(async (db) => {
    const before = seen && (await lockMaterial(db, id));
    if (seen && !before) throw notFound("material");
    const { supplier, licence, family, tags, ...rest } =
      seen && before ? ownChange(change, seen, factsSeenOf(before)) : change;
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
