import { z } from "zod";
import { fromLab } from "#core/colorList/notation";
import { HUES, LIGHTS, type HueField } from "#core/library/hueChart";
import type { LibrarySearch } from "#core/library/librarySearch";
import { type Db, rows } from "#server/db/database";
import { searchConditions } from "#server/material/searchConditions";
import { readSearch } from "#server/material/searchWords";

const fieldSchema = z.object({
  hue: z.number().int(),
  row: z.number().int(),
  materials: z.number().int(),
  lab: z.array(z.number()),
});

/** What a search finds, by hue and lightness: how many lie in each field, with the colour of one of them. */
export async function listHues(db: Db, search: LibrarySearch): Promise<HueField[]> {
  const { sought } = await readSearch(db, search.q ?? "");
  const values: unknown[] = [];
  const value = (v: unknown) => `$${values.push(v)}`;
  const { tables, joins, where } = searchConditions(search, sought, value);
  // Hue and lightness stand in the material's own row: of all that is found, nothing else is looked up.
  const placed = `SELECT m.id,
      CASE WHEN m.color_order <= 1 THEN 0 ELSE least(${HUES}, 1 + floor((m.color_order - 1) * ${HUES})::int) END AS hue,
      ${LIGHTS - 1} - least(${LIGHTS - 1}, floor(greatest(0, 116 * cbrt(m.light_reflectance / 100) - 16) / 100 * ${LIGHTS})::int) AS row
    FROM materials m ${joins.join(" ")} WHERE ${where.join(" AND ")} AND m.color_order IS NOT NULL AND m.light_reflectance IS NOT NULL`;
  const found = await rows(
    db,
    fieldSchema,
    `WITH ${[...tables, `placed AS (${placed})`].join(", ")},
     fields AS (SELECT hue, row, count(*)::int AS materials, min(id::text)::uuid AS one FROM placed GROUP BY hue, row)
     SELECT f.hue, f.row, f.materials, c.lab FROM fields f JOIN LATERAL (
       SELECT ARRAY[cube_ll_coord(lab, 1), cube_ll_coord(lab, 2), cube_ll_coord(lab, 3)] AS lab FROM material_colors
        WHERE material = f.one ORDER BY share DESC LIMIT 1) c ON true
      ORDER BY f.hue, f.row`,
    values,
    "each-time",
  );
  return found.map(({ hue, row, materials, lab: [l, a, b] }) => ({
    ...{ hue, row, materials, hex: fromLab(l, a, b, "D65").hex },
  }));
}
