import { z } from "zod";
import type { Person } from "#server/auth/person";
import { jsonField } from "#server/http/cleanForm";
import { moveFiles, moveInput, undoMove } from "#server/intake/arrange/commands";
import { badField } from "#server/problem";
import { fieldsOf, intent, intents } from "../fieldsOf";
import { act } from "../guard";
import type { Route } from "./+types/moves";

const ACTS = intents(
  intent("move", { intake: z.uuid(), move: z.string().max(1_000_000) }),
  intent("undo", { move: z.uuid() }),
);

/** Moves files of an intake, or undoes that. */
export const action = act(async ({ form, person }: Route.ActionArgs & { form: FormData; person: Person }) => {
  const fields = fieldsOf(form, ACTS);
  if (fields.intent === "undo") {
    await undoMove(fields.move, person);
    return {};
  }
  const move = moveInput.safeParse(jsonField(fields.move));
  if (!move.success)
    throw badField("/move", "What was sent cannot be read. Load the page again and repeat it.");
  return { moved: await moveFiles(fields.intake, move.data, person) };
});
