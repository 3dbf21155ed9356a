import { z } from "zod";
import { CONDITIONS, isOwnEnvironment, type Condition, type Light } from "#core/picture/condition";
import { plainLine } from "#core/text/plainText";
import type { Person } from "#server/auth/person";
import {
  countConditions,
  deleteCondition,
  findCondition,
  insertCondition,
  updateCondition,
  type ConditionRow,
} from "#server/condition/sql";
import { checkPanorama } from "#server/condition/panorama";
import { database, inTransaction, violates, type Db } from "#server/db/database";
import { announce } from "#server/events/events";
import { badField, conflict, notFound } from "#server/problem";

/** More are not kept. */
const MOST_CONDITIONS = 200;

export interface ConditionDraft {
  name: string;
  light: Light;
}

/** @throws {Problem} naming what cannot be: a name that is taken, or an environment that lights nothing */
async function checked(db: Db, { name, light }: ConditionDraft): Promise<ConditionDraft> {
  const line = plainLine(name).trim();
  if (line === "") throw badField("/name", "Say how the condition is called.");
  if (Object.values(CONDITIONS).some((one) => one.name.toLowerCase() === line.toLowerCase()))
    throw taken(line);
  if (!isOwnEnvironment(light.environment)) await checkPanorama(db, light.environment);
  return { name: line, light };
}

const taken = (name: string) => badField("/name", `There is a condition “${name}” already.`);

async function saved(
  name: string,
  write: (db: Db) => Promise<ConditionRow | undefined>,
): Promise<ConditionRow> {
  try {
    return await inTransaction(async (db) => {
      const row = await write(db);
      if (!row) throw notFound("condition");
      await announce(db, { topic: "library", id: row.id });
      return row;
    });
  } catch (error) {
    if (violates(error, "conditions_name")) throw taken(name);
    throw error;
  }
}

/** Keeps a condition under a name. @throws {Problem} where it cannot be kept */
export const createCondition = (draft: ConditionDraft, person: Person): Promise<ConditionRow> =>
  saved(draft.name, async (db) => {
    if ((await countConditions(db)) >= MOST_CONDITIONS)
      throw conflict(`The studio keeps up to ${MOST_CONDITIONS} conditions. Delete one first.`);
    const { name, light } = await checked(db, draft);
    return insertCondition(db, name, light, person.id);
  });

/** @throws {Problem} 404, or where it cannot be kept so */
export const changeCondition = (id: string, change: Partial<ConditionDraft>): Promise<ConditionRow> =>
  saved(change.name ?? "", async (db) => {
    const before = await findCondition(db, id);
    if (!before) throw notFound("condition");
    return updateCondition(db, { id, ...(await checked(db, { ...before, ...change })) });
  });

export async function removeCondition(id: string): Promise<void> {
  await inTransaction(async (db) => {
    if (!(await deleteCondition(db, id))) throw notFound("condition");
    await announce(db, { topic: "library", id });
  });
}

/** A condition by its name among those that everybody has, or by its id. @throws {Problem} where there is none */
export async function conditionNamed(name: string): Promise<Condition> {
  if (name in CONDITIONS) return CONDITIONS[name as keyof typeof CONDITIONS];
  const own = z.uuid().safeParse(name).success ? await findCondition(database(), name) : undefined;
  if (!own)
    throw badField(
      "/condition",
      `There is no condition “${name.slice(0, 80)}”. Those that everybody has are ${Object.keys(CONDITIONS).join(", ")}; the studio's own are asked for by their ids.`,
    );
  return { name: own.name, ...own.light };
}
