import { redirect } from "react-router";
import { z } from "zod";
import { database } from "#server/db/database";
import { badField } from "#server/problem";
import { setView, UNITS } from "#server/db/people";
import { act, look } from "../guard";
import { SCALES } from "../view/scales";
import type { Route } from "./+types/view";

export const loader = look(async () => {
  throw redirect("/library");
});

const viewSchema = z.object({
  scale: z.coerce
    .number()
    .refine((scale) => SCALES.some((known) => known === scale))
    .optional(),
  unit: z.enum(UNITS).optional(),
});

/** Keeps the scale and unit that a person looks at things in. */
export const action = act(
  async ({ form, person }: Route.ActionArgs & { form: FormData; person: { id: string } }) => {
    const view = viewSchema.safeParse(Object.fromEntries(form));
    if (!view.success || Object.values(view.data).every((value) => value === undefined))
      throw badField("/scale", "Say a scale or a unit that there is.");
    await setView(database(), person.id, view.data);
    return { kept: true };
  },
);
