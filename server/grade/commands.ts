import { GRADES, type Grade } from "#core/finish/grades";
import { plainLine } from "#core/text/plainText";
import type { Person } from "#server/auth/person";
import { inTransaction, violates, type Db } from "#server/db/database";
import { announce } from "#server/events/events";
import { countGrades, deleteGrade, insertGrade, updateGrade, type GradeRow } from "#server/grade/sql";
import { badField, conflict, notFound } from "#server/problem";

/** More are not kept. */
const MOST_GRADES = 500;

const taken = (name: string) => badField("/name", `There is a grade “${name}” already.`);

function checked(grade: Grade): Grade {
  const name = plainLine(grade.name).trim();
  if (name === "") throw badField("/name", "Say how the grade is called.");
  if (GRADES.some((one) => one.name === name.toLowerCase())) throw taken(name);
  return { ...grade, name, says: plainLine(grade.says).trim() };
}

async function saved(
  grade: Grade,
  write: (db: Db, grade: Grade) => Promise<GradeRow | undefined>,
): Promise<GradeRow> {
  const kept = checked(grade);
  try {
    return await inTransaction(async (db) => {
      const row = await write(db, kept);
      if (!row) throw notFound("grade");
      await announce(db, { topic: "library", id: row.id });
      return row;
    });
  } catch (error) {
    if (violates(error, "grades_name")) throw taken(kept.name);
    throw error;
  }
}

/** Keeps a grade of the studio's own. @throws {Problem} where its name is taken, or there are too many */
export const createGrade = (grade: Grade, person: Person): Promise<GradeRow> =>
  saved(grade, async (db, kept) => {
    if ((await countGrades(db)) >= MOST_GRADES)
      throw conflict(`The studio keeps up to ${MOST_GRADES} grades. Delete one first.`);
    return insertGrade(db, kept, person.id);
  });

/** What wears it already keeps the values that it was given. @throws {Problem} 404, or where its name is taken */
export const changeGrade = (id: string, grade: Grade): Promise<GradeRow> =>
  saved(grade, (db, kept) => updateGrade(db, id, kept));

export async function removeGrade(id: string): Promise<void> {
  await inTransaction(async (db) => {
    if (!(await deleteGrade(db, id))) throw notFound("grade");
    await announce(db, { topic: "library", id });
  });
}
