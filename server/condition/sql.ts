import { z } from "zod";
import { isOwnEnvironment, lightSchema, type Light } from "#core/picture/condition";
import { type Db, oneRow, rows } from "#server/db/database";

export const conditionRowSchema = z.object({ id: z.string(), name: z.string(), light: lightSchema });

/** A condition of the studio's own. */
export type ConditionRow = z.infer<typeof conditionRowSchema>;

export const listConditions = (db: Db): Promise<ConditionRow[]> =>
  rows(db, conditionRowSchema, "SELECT id, name, light FROM conditions ORDER BY lower(name)");

export const findCondition = (db: Db, id: string) =>
  oneRow(db, conditionRowSchema, "SELECT id, name, light FROM conditions WHERE id = $1", [id]);

export const countConditions = async (db: Db): Promise<number> =>
  (await oneRow(db, z.object({ count: z.number() }), "SELECT count(*)::int AS count FROM conditions"))!.count;

const panoramaOf = ({ environment }: Light) => (isOwnEnvironment(environment) ? null : environment);

export const insertCondition = (db: Db, name: string, light: Light, person: string) =>
  oneRow(
    db,
    conditionRowSchema,
    "INSERT INTO conditions (name, light, panorama, made_by) VALUES ($1, $2, $3, $4) RETURNING id, name, light",
    [name, light, panoramaOf(light), person],
  );

export const updateCondition = (db: Db, { id, name, light }: ConditionRow) =>
  oneRow(
    db,
    conditionRowSchema,
    "UPDATE conditions SET name = $2, light = $3, panorama = $4 WHERE id = $1 RETURNING id, name, light",
    [id, name, light, panoramaOf(light)],
  );

export const deleteCondition = (db: Db, id: string) =>
  oneRow(db, z.object({ id: z.string() }), "DELETE FROM conditions WHERE id = $1 RETURNING id", [id]);

export const environmentSchema = z.object({
  /** Of the material. */
  id: z.string(),
  name: z.string(),
  /** By this a condition names it. */
  sha256: z.string(),
});
export type EnvironmentRow = z.infer<typeof environmentSchema>;

const ENVIRONMENTS = `SELECT m.id, m.name, a.sha256 FROM materials m
   JOIN maps a ON a.material = m.id AND a.revision = m.revision AND a.role = 'environment' AND a.channel = 'color'
  WHERE m.kind = 'environment' AND m.deleted_at IS NULL`;

/** The panoramas of the library. */
export const listEnvironments = (db: Db): Promise<EnvironmentRow[]> =>
  rows(db, environmentSchema, `${ENVIRONMENTS} ORDER BY lower(m.name), m.id LIMIT 500`);

/** Whether a file is the panorama of something, be it retired: a condition that was kept goes on. */
export const isPanorama = async (db: Db, sha256: string): Promise<boolean> =>
  (await oneRow(
    db,
    z.object({ one: z.number() }),
    `SELECT 1 AS one WHERE EXISTS (SELECT FROM maps WHERE sha256 = $1 AND role = 'environment')
        OR EXISTS (SELECT FROM conditions WHERE panorama = $1)`,
    [sha256],
  )) !== undefined;
