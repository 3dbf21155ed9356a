import { z } from "zod";
import { database, rows, type Db } from "#server/db/database";
import type { Person } from "#server/auth/person";
import { deliverAgain } from "#server/delivery/commands";
import { DELIVERY, deliverySchema, hasOldFacts, type DeliveryRow } from "#server/delivery/queries";
import { Problem } from "#server/problem";

/**
 * What lies at destinations and has been overtaken: by revisions of its materials (of a project, by those that it has taken), by materials
 * that came to a project or left it, by its profiles, or by the facts that a file carries. Only the last delivery of the same to the same counts, and none while another one
 * is on its way.
 */
const IDS = `
  WITH last AS (
    SELECT DISTINCT ON (d.project, d.collection, d.destination, d.max_pixels, d.profiles, w.what) d.id, d.state, d.project, d.created_at
      FROM deliveries d
      CROSS JOIN LATERAL (SELECT CASE WHEN d.project IS NULL AND d.collection IS NULL THEN
        (SELECT string_agg(dm.material::text, ' ' ORDER BY dm.material) FROM delivery_materials dm WHERE dm.delivery = d.id) END AS what) w
     WHERE d.destination IS NOT NULL AND d.state IN ('planned', 'running', 'done')
     ORDER BY d.project, d.collection, d.destination, d.max_pixels, d.profiles, w.what, d.created_at DESC
  )
  SELECT l.id FROM last l
   WHERE l.state = 'done' AND (
     ${hasOldFacts("l")} OR
     EXISTS (SELECT FROM delivery_profiles dp JOIN profiles f ON f.id = dp.profile
              WHERE dp.delivery = l.id AND f.revision > dp.revision)
     OR (l.project IS NULL AND EXISTS (
       SELECT FROM delivery_materials dm JOIN materials m ON m.id = dm.material
        WHERE dm.delivery = l.id AND m.deleted_at IS NULL AND m.revision > dm.revision))
     OR (l.project IS NOT NULL AND EXISTS (
       SELECT FROM (SELECT material, revision FROM delivery_materials WHERE delivery = l.id) had
         FULL JOIN (SELECT p.material, p.revision FROM project_revisions p JOIN materials m ON m.id = p.material
                     WHERE p.project = l.project AND m.kind = 'material' AND m.deleted_at IS NULL) has USING (material)
        WHERE had.revision IS DISTINCT FROM has.revision)))`;

/** Of what; all where nothing is said. */
export interface OutOfDateOf {
  project?: string;
  destination?: string;
  profile?: string;
}

export const listOutOfDate = (db: Db, of: OutOfDateOf = {}): Promise<DeliveryRow[]> =>
  rows(
    db,
    deliverySchema,
    `${DELIVERY} WHERE ($1::uuid IS NULL OR d.project = $1) AND ($2::uuid IS NULL OR d.destination = $2)
       AND ($3::text IS NULL OR $3 = ANY (d.profiles)) AND d.id IN (${IDS}) ORDER BY d.created_at DESC LIMIT 200`,
    [of.project ?? null, of.destination ?? null, of.profile ?? null],
  );

/** What became of delivering one of them again. */
export const broughtUpSchema = z.object({
  of: z.string(),
  delivery: z.string().nullable(),
  failure: z.string().nullable(),
});

/** Delivers all that is out of date again, each by itself: one that cannot be planned keeps no other one back. */
export async function bringUpToDate(
  person: Pick<Person, "id">,
  of: OutOfDateOf = {},
): Promise<z.infer<typeof broughtUpSchema>[]> {
  const ends: z.infer<typeof broughtUpSchema>[] = [];
  for (const { id } of await listOutOfDate(database(), of))
    try {
      ends.push({ of: id, delivery: (await deliverAgain(id, person)).id, failure: null });
    } catch (error) {
      if (!(error instanceof Problem)) throw error;
      ends.push({ of: id, delivery: null, failure: error.detail });
    }
  return ends;
}
