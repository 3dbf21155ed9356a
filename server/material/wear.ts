import { z } from "zod";
import { mapSchema } from "#core/finish/mapSchema";
import { LAYOUTS, SIZE_STATES } from "#core/finish/material";
import { wearLayerSchema, type WearLayer } from "#core/finish/wear";
import { type Db, rows } from "#server/db/database";
import { badField } from "#server/problem";

const repeatSchema = z.object({ width: z.number(), height: z.number() });

/** A wear layer as the library has it, in one revision: a `WornLayer` but for how it is laid on. */
const wearSchema = z.object({
  material: z.string(),
  revision: z.number(),
  /** The newest there is. */
  currentRevision: z.number(),
  code: z.string(),
  name: z.string(),
  layout: z.enum(LAYOUTS),
  repeat: repeatSchema.nullable(),
  sizeState: z.enum(SIZE_STATES),
  mask: mapSchema,
});
export type Wear = z.infer<typeof wearSchema>;

/** A `WornLayer`, as a revision refers to it. */
export const wornLayerSchema = wearSchema
  .omit({ material: true, revision: true })
  .extend({ layer: wearLayerSchema });

const repeatOf = (revision: string) => `CASE WHEN ${revision}.repeat_width_mm IS NULL THEN NULL
  ELSE jsonb_build_object('width', ${revision}.repeat_width_mm, 'height', ${revision}.repeat_height_mm) END`;

const MASK = `jsonb_build_object('role', a.role, 'sha256', a.sha256, 'channel', a.channel, 'fileName', a.file_name,
  'normalDirection', a.normal_direction, 'width', i.width, 'height', i.height, 'bitDepth', i.bit_depth, 'channels', i.channels)`;

/** SQL for what the layers of a revision refer to, as `WornLayer`s in their order. @param r the revision's alias */
export const wornLayersOf = (r: string): string => `COALESCE((
  SELECT jsonb_agg(jsonb_build_object('layer', ${r}.finish->'wear'->w.position, 'code', m.code, 'name', m.name, 'layout', m.layout,
      'currentRevision', m.revision, 'repeat', ${repeatOf("lr")}, 'sizeState', lr.size_state, 'mask', ${MASK}) ORDER BY w.position)
    FROM worn_layers w JOIN materials m ON m.id = w.layer
    JOIN revisions lr ON lr.material = w.layer AND lr.number = w.layer_revision
    JOIN maps a ON a.material = w.layer AND a.revision = w.layer_revision AND a.role = 'wear_mask'
    JOIN images i USING (sha256)
   WHERE w.material = ${r}.material AND w.revision = ${r}.number), '[]')`;

const WEAR = `SELECT m.id AS material, lr.number AS revision, m.revision AS "currentRevision", m.code, m.name, m.layout,
    ${repeatOf("lr")} AS repeat, lr.size_state AS "sizeState", ${MASK} AS mask
  FROM materials m JOIN revisions lr ON lr.material = m.id
  JOIN maps a ON a.material = m.id AND a.revision = lr.number AND a.role = 'wear_mask' JOIN images i USING (sha256)
 WHERE m.kind = 'wear'`;

/** More are not offered in one list. */
const MOST = 200;

/** The wear layers that can be laid on, each in its newest revision. */
export const listWear = (db: Db): Promise<Wear[]> =>
  rows(
    db,
    wearSchema,
    `${WEAR} AND m.deleted_at IS NULL AND lr.number = m.revision ORDER BY lower(m.name), m.id LIMIT ${MOST}`,
  );

/** Layers in the revisions that are asked for; what is not there is left out. */
const findWear = (db: Db, asked: { material: string; revision: number }[]): Promise<Wear[]> =>
  rows(
    db,
    wearSchema,
    `${WEAR} AND EXISTS (SELECT 1 FROM jsonb_to_recordset($1) AS w(material uuid, revision integer)
       WHERE w.material = m.id AND w.revision = lr.number)`,
    [JSON.stringify(asked.map(({ material, revision }) => ({ material, revision })))],
  );

/** @throws {Problem} naming the layer that there is no such material, revision or wear of */
export async function checkWear(db: Db, layers: readonly WearLayer[], kind: string): Promise<void> {
  if (layers.length === 0) return;
  if (kind !== "material")
    throw badField("/finish/wear", "Wear is laid over materials, and not over a wear layer.");
  const found = await findWear(db, [...layers]);
  for (const [at, { material, revision }] of layers.entries()) {
    if (found.some((wear) => wear.material === material && wear.revision === revision)) continue;
    throw badField(
      `/finish/wear/${at}/material`,
      `There is no wear layer with the id “${material}” in a revision ${revision}.`,
    );
  }
}

const wearerSchema = z.object({
  id: z.string(),
  code: z.string(),
  name: z.string(),
  /** The revision of the layer that it uses. */
  layerRevision: z.number(),
});

/** The materials whose newest revision uses a layer. */
export const listWearers = (db: Db, layer: string) =>
  rows(
    db,
    wearerSchema,
    `SELECT m.id, m.code, m.name, min(w.layer_revision) AS "layerRevision"
       FROM worn_layers w JOIN materials m ON m.id = w.material AND m.revision = w.revision
      WHERE w.layer = $1 AND m.deleted_at IS NULL
      GROUP BY m.id ORDER BY lower(m.name), m.id LIMIT 2000`,
    [layer],
  );

/** Notes which layers a revision refers to. */
export async function insertWornLayers(
  db: Db,
  material: string,
  revision: number,
  layers: readonly WearLayer[],
): Promise<void> {
  await db.query(
    `INSERT INTO worn_layers (material, revision, position, layer, layer_revision)
     SELECT $1, $2, position, layer, layer_revision
       FROM jsonb_to_recordset($3) AS w(position integer, layer uuid, layer_revision integer)`,
    [
      material,
      revision,
      JSON.stringify(
        layers.map((layer, position) => ({
          position,
          layer: layer.material,
          layer_revision: layer.revision,
        })),
      ),
    ],
  );
}
