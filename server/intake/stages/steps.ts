import { z } from "zod";
import { plainJson } from "#core/text/plainText";
import { type Db, oneRow, rows } from "#server/db/database";

/** The stages of a reading that are shared out in steps: its files, then its sets. */
export type Stage = "study" | "judge";

/** One step that a lane has taken; what it needs to know has been written by ourselves. */
export interface Step {
  position: number;
  content: object;
}

const json = z.custom<object>((value) => typeof value === "object" && value !== null);

/** Puts the steps of a stage there in place of all that an intake had. */
export async function putSteps(db: Db, intake: string, stage: Stage, contents: object[]): Promise<void> {
  await clearSteps(db, intake);
  await db.query(
    `INSERT INTO intake_steps (intake, stage, position, content)
     SELECT $1, $2, place - 1, content FROM unnest($3::jsonb[]) WITH ORDINALITY AS steps (content, place)`,
    [intake, stage, contents.map((content) => JSON.stringify(plainJson(content)))],
  );
}

export async function clearSteps(db: Db, intake: string): Promise<void> {
  await db.query("DELETE FROM intake_steps WHERE intake = $1", [intake]);
}

/**
 * Takes the next step for a lane; undefined where none is left to be taken. What is chosen stands in a part of its own: within the condition
 * of the update it may be chosen once for each row that is looked at, and several be taken of which one is done.
 */
export const takeStep = (db: Db, intake: string, stage: Stage, lane: number): Promise<Step | undefined> =>
  oneRow(
    db,
    z.object({ position: z.number(), content: json }),
    `WITH next AS MATERIALIZED (
       SELECT position FROM intake_steps
        WHERE intake = $1 AND stage = $2 AND outcome IS NULL AND lane IS NULL
        ORDER BY position LIMIT 1 FOR UPDATE SKIP LOCKED)
     UPDATE intake_steps s SET lane = $3 FROM next
      WHERE s.intake = $1 AND s.stage = $2 AND s.position = next.position
     RETURNING s.position, s.content`,
    [intake, stage, lane],
  );

/** Gives back what a lane had taken when it was broken off. */
export async function giveBack(db: Db, intake: string, lane: number): Promise<void> {
  await db.query("UPDATE intake_steps SET lane = NULL WHERE intake = $1 AND lane = $2 AND outcome IS NULL", [
    intake,
    lane,
  ]);
}

export async function endStep(
  db: Db,
  intake: string,
  stage: Stage,
  position: number,
  outcome: object,
): Promise<void> {
  await db.query(
    "UPDATE intake_steps SET outcome = $4 WHERE intake = $1 AND stage = $2 AND position = $3 AND outcome IS NULL",
    [intake, stage, position, JSON.stringify(plainJson(outcome))],
  );
}

/** Ends all steps that are open, taken or not. */
export async function endOpenSteps(db: Db, intake: string, stage: Stage, outcome: object): Promise<void> {
  await db.query(
    "UPDATE intake_steps SET outcome = $3 WHERE intake = $1 AND stage = $2 AND outcome IS NULL",
    [intake, stage, JSON.stringify(outcome)],
  );
}

export async function hasOpenSteps(db: Db, intake: string, stage: Stage): Promise<boolean> {
  const row = await oneRow(
    db,
    z.object({ open: z.boolean() }),
    "SELECT EXISTS (SELECT 1 FROM intake_steps WHERE intake = $1 AND stage = $2 AND outcome IS NULL) AS open",
    [intake, stage],
  );
  return row!.open;
}

/** What came of the steps of a stage, in their order. */
export const listOutcomes = (db: Db, intake: string, stage: Stage) =>
  rows(
    db,
    z.object({ content: json, outcome: json }),
    "SELECT content, outcome FROM intake_steps WHERE intake = $1 AND stage = $2 AND outcome IS NOT NULL ORDER BY position",
    [intake, stage],
  );
