import { redirect } from "react-router";
import { z } from "zod";
import type { Person } from "#server/auth/person";
import { badField } from "#server/problem";
import { UNITS } from "#server/auth/person";
import { keepView } from "#server/people/commands";
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
export const action = act(async ({ form, person }: Route.ActionArgs & { form: FormData; person: Person }) => {
  const view = viewSchema.safeParse(Object.fromEntries(form));
  if (!view.success || Object.values(view.data).every((value) => value === undefined))
    throw badField("/scale", "Say a scale or a unit that there is.");
  await keepView(person, view.data);
  return { kept: true };
});
