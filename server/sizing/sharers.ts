import { z } from "zod";
import { rows, type Db } from "#server/db/database";

const sharerSchema = z.object({ id: z.string(), name: z.string() });
export type Sharer = z.infer<typeof sharerSchema>;

/** More are told by their line, or found by their module. */
const MOST = 100;

/**
 * Materials that have the size of one because they took it: from it, or in the same act by the same module. Where that was wrong,
 * it is wrong for them too.
 */
export const listSharers = (db: Db, id: string): Promise<Sharer[]> =>
  rows(
    db,
    sharerSchema,
    `WITH own AS (
       SELECT r.repeat_width_mm, r.repeat_height_mm, r.gauge FROM materials m
         JOIN revisions r ON r.material = m.id AND r.number = m.revision WHERE m.id = $1)
     SELECT m.id, m.name FROM own, materials m JOIN revisions r ON r.material = m.id AND r.number = m.revision
      WHERE m.deleted_at IS NULL AND m.id <> $1 AND m.id IN (
        SELECT material FROM revisions WHERE gauge->>'method' = 'same-as' AND gauge->>'material' = $1::uuid::text
        UNION
        SELECT o.material FROM bulk_change_items i JOIN bulk_changes c ON c.id = i.change AND c.kind = 'size'
          JOIN bulk_change_items o ON o.change = i.change WHERE i.material = $1 AND i.state = 'changed' AND o.state = 'changed')
        AND ((r.gauge->>'method' = 'same-as' AND r.gauge->>'material' = $1::uuid::text)
          OR (r.gauge->'workSize' = own.gauge->'workSize' AND r.gauge->'joint' IS NOT DISTINCT FROM own.gauge->'joint'
            AND r.repeat_width_mm = own.repeat_width_mm AND r.repeat_height_mm = own.repeat_height_mm))
      ORDER BY lower(m.name), m.id LIMIT ${MOST}`,
    [id],
  );
