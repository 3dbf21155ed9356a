import { channelsApart } from "#core/candidates/channelsApart";
import { ROLE_NAMES, ROLES, type Role } from "#core/roles/roles";
import { questionsOf, type Question, type QuestionAnswer } from "#core/candidates/questions";
import type { Person } from "#server/auth/person";
import { database, inTransaction, oneRow, type Db } from "#server/db/database";
import { announce } from "#server/events/events";
import {
  answerMaps,
  insertAnswer,
  insertChannels,
  listAsked,
  markTakenBack,
  restoreMaps,
} from "#server/intake/questions/sql";
import { findIntake } from "#server/intake/queries";
import { addJob } from "#server/jobs/queue";
import { badField, conflict, notFound } from "#server/problem";
import { z } from "zod";

/** What is asked about an intake, each question once. @throws {Problem} where there is no such intake */
export async function questionsAbout(intake: string): Promise<Question[]> {
  if (!(await findIntake(database(), intake))) throw notFound("intake");
  return questionsOf(await listAsked(database(), intake));
}

export interface Answering {
  question: string;
  answer: QuestionAnswer;
  /** Whether it holds for later files of the same source. */
  keep: boolean;
}

export interface Answered {
  id: string;
  files: number;
  /** Files that stay open, since their sets have a map of that role. */
  left: number;
}

/** Answers a question for all files that share it. @throws {Problem} where nobody asks it, or the answer is none to it */
export function answerQuestion(
  intake: string,
  { question: key, answer, keep }: Answering,
  person: Pick<Person, "id">,
): Promise<Answered> {
  return inTransaction(async (db) => {
    await lockReviewed(db, intake);
    const candidates = await listAsked(db, intake);
    const question = questionsOf(candidates).find((one) => one.key === key);
    if (!question) throw conflict("Nobody asks that any more: it was answered meanwhile.", "/question");
    const isDirection = answer === "+Y" || answer === "-Y";
    if (isDirection !== (question.asks === "direction"))
      throw badField(
        "/answer",
        question.asks === "direction" ? "Say +Y or -Y." : "Say a role, or leave-out.",
      );
    if (answer === "apart" && question.apart === "no")
      throw badField("/answer", "Not all of the files have three channels: say a role, or leave-out.");
    if (keep && question.mark === "")
      throw badField("/keep", "Its name ends in nothing that other files could share: nothing can be kept.");
    const roles = new Map(
      candidates.map(({ id, maps }) => [id, new Set<string>(maps.map(({ role }) => role))]),
    );
    const files = question.files.filter(({ candidate }) => {
      if (question.asks === "direction" || !isRole(answer)) return true;
      const taken = roles.get(candidate)!;
      return !taken.has(answer) && taken.add(answer);
    });
    if (files.length === 0 && isRole(answer))
      throw badField(
        "/answer",
        `${question.files.length === 1 ? "Its set has" : "All their sets have"} a ${ROLE_NAMES[answer]} map already. Leave ${question.files.length === 1 ? "it" : "them"} out, or say something else.`,
      );
    const id = await insertAnswer(db, {
      ...{ intake, asks: question.asks, channel: question.channel, mark: question.mark },
      ...{ companions: question.companions, answer, isKept: keep, person: person.id },
    });
    await answerMaps(db, id, answer, files);
    if (answer === "apart")
      for (const { candidate, file } of files) {
        const map = candidates.find((one) => one.id === candidate)!.maps.find((one) => one.file === file)!;
        await insertChannels(
          db,
          candidate,
          channelsApart(map, { channels: map.channels ?? 1, reading: map.reading }),
        );
      }
    await judgeLater(db, intake);
    return { id, files: files.length, left: question.files.length - files.length };
  });
}

const isRole = (answer: QuestionAnswer): answer is Role => (ROLES as readonly string[]).includes(answer);

/** Takes an answer back: what waits is asked again, what is in the library stays as it is. @throws {Problem} where there is none */
export function takeAnswerBack(id: string): Promise<void> {
  return inTransaction(async (db) => {
    if (!(await markTakenBack(db, id))) throw notFound("answer");
    for (const intake of await restoreMaps(db, id)) await judgeLater(db, intake);
  });
}

/** Has what somebody told of an intake judged. */
export async function judgeLater(db: Db, intake: string): Promise<void> {
  await addJob(db, "judge-again", { intake });
  await announce(db, { topic: "intake", id: intake, state: "review" });
}

/** One at a time answers and moves in an intake, while it is in review. @throws {Problem} */
export async function lockReviewed(db: Db, id: string): Promise<void> {
  const row = await oneRow(
    db,
    z.object({ state: z.string() }),
    "SELECT state FROM intakes WHERE id = $1 FOR UPDATE",
    [id],
  );
  if (!row) throw notFound("intake");
  if (row.state !== "review")
    throw conflict(`The intake is “${row.state}”: this can be done while it is in review.`);
}
