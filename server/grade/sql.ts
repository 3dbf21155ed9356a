import { z } from "zod";
import { gradeSchema, type Grade } from "#core/finish/grades";
import { type Db, oneRow, rows } from "#server/db/database";

const readSchema = z.object({ id: z.string(), grade: gradeSchema });

/** A surface grade of the studio's own. */
export const gradeRowSchema = gradeSchema.extend({ id: z.string() });
export type GradeRow = z.infer<typeof gradeRowSchema>;

const flat = ({ id, grade }: z.infer<typeof readSchema>): GradeRow => ({ id, ...grade });

export const listGrades = async (db: Db): Promise<GradeRow[]> =>
  (await rows(db, readSchema, "SELECT id, grade FROM grades ORDER BY family, lower(name)")).map(flat);

export const countGrades = async (db: Db): Promise<number> =>
  (await oneRow(db, z.object({ count: z.number() }), "SELECT count(*)::int AS count FROM grades"))!.count;

export async function insertGrade(db: Db, grade: Grade, person: string): Promise<GradeRow> {
  const row = await oneRow(
    db,
    readSchema,
    "INSERT INTO grades (name, family, grade, made_by) VALUES ($1, $2, $3, $4) RETURNING id, grade",
    [grade.name, grade.family, grade, person],
  );
  return flat(row!);
}

export async function updateGrade(db: Db, id: string, grade: Grade): Promise<GradeRow | undefined> {
  const row = await oneRow(
    db,
    readSchema,
    "UPDATE grades SET name = $2, family = $3, grade = $4 WHERE id = $1 RETURNING id, grade",
    [id, grade.name, grade.family, grade],
  );
  return row && flat(row);
}

export const deleteGrade = (db: Db, id: string) =>
  oneRow(db, z.object({ id: z.string() }), "DELETE FROM grades WHERE id = $1 RETURNING id", [id]);
