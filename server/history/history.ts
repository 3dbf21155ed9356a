import { z } from "zod";
import { FAMILIES } from "#core/finish/family";
import { database, inTransaction, type Db } from "#server/db/database";
import { announce } from "#server/events/events";
import { listFactChanges, namesOf, type FactChange, type Subject } from "#server/history/sql";
import { overtaken } from "#server/jobs/overtaken";
import { updateLicence } from "#server/licence/writes";
import { PRICES } from "#core/library/licence";
import { lockMaterial } from "#server/material/queries";
import {
  updateFamilyAndTags,
  updateMaterial,
  updateSource,
  updateVariant,
  updateLine,
} from "#server/material/writes";
import { notFound } from "#server/problem";

/** One field of a change, in words. */
export const toldFieldSchema = z.object({ name: z.string(), before: z.string(), after: z.string() });

export interface ToldChange {
  id: string;
  madeAt: Date;
  /** Null where the program did it by itself. */
  madeBy: string | null;
  fields: z.infer<typeof toldFieldSchema>[];
}

const WORDS: Record<string, string> = { productCode: "product code", endsOn: "last day" };

/** What was changed of the facts of a material, or of a licence, the newest first, in words. */
export async function readHistory(of: Subject, id: string): Promise<ToldChange[]> {
  const changes = await listFactChanges(database(), of, id);
  const ids = changes.flatMap(({ before, after }) =>
    [...Object.values(before), ...Object.values(after)].filter((value) => z.uuid().safeParse(value).success),
  ) as string[];
  const names = await namesOf(database(), ids);
  return changes.map(({ id, madeAt, madeBy, before, after }) => ({
    ...{ id, madeAt, madeBy },
    fields: Object.keys({ ...before, ...after }).map((field) => ({
      name: WORDS[field] ?? field,
      before: inWords(before[field], names),
      after: inWords(after[field], names),
    })),
  }));
}

function inWords(value: unknown, names: Map<string, string>): string {
  if (value === null || value === undefined || value === "") return "none";
  if (Array.isArray(value)) return value.length === 0 ? "none" : value.join(", ");
  if (typeof value === "object") {
    const parts = Object.entries(value).map(([key, one]) => `${key} ${String(one)}`);
    return parts.length === 0 ? "none" : parts.join(", ");
  }
  return names.get(String(value)) ?? String(value);
}

/** What a change noted as it was before, of a material. */
const materialFields = z
  .object({
    name: z.string(),
    line: z.string().nullable(),
    variant: z.record(z.string(), z.string()),
    tags: z.array(z.string()),
    family: z.enum(FAMILIES).nullable(),
    supplier: z.string().nullable(),
    product: z.string().nullable(),
    productCode: z.string().nullable(),
    page: z.string().nullable(),
    licence: z.string().nullable(),
  })
  .partial();

const licenceFields = z
  .object({
    name: z.string(),
    price: z.enum(PRICES),
    project: z.string().nullable(),
    endsOn: z.string().nullable(),
    credit: z.string().nullable(),
  })
  .partial();

/** Puts the fields of a change back to what they were before it; the rest stays. That is a change as well. @throws {Problem} */
export async function putBack(of: Subject, id: string, change: string): Promise<void> {
  await inTransaction(async (db) => {
    if (of === "material" && !(await lockMaterial(db, id))) throw notFound("material");
    const found = (await listFactChanges(db, of, id)).find((one) => one.id === change);
    if (!found) throw notFound("change");
    await (of === "material" ? putFactsBack(db, id, found) : putTermsBack(db, id, found));
    await announce(db, { topic: "library", id });
    await overtaken(db);
  });
}

async function putFactsBack(db: Db, id: string, { before }: FactChange): Promise<void> {
  const { name, line, variant, tags, family, ...source } = materialFields.parse(before);
  if (name !== undefined) await updateMaterial(db, id, { name });
  if (line !== undefined) await updateLine(db, id, line);
  if (variant !== undefined) await updateVariant(db, id, variant);
  if (tags !== undefined || family !== undefined) await updateFamilyAndTags(db, id, { tags, family });
  if (Object.keys(source).length > 0) await updateSource(db, id, source);
}

async function putTermsBack(db: Db, id: string, { before }: FactChange): Promise<void> {
  await updateLicence(db, id, licenceFields.parse(before));
}
