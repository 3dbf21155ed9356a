import { z } from "zod";
import { PURPOSES } from "#core/judge/holdsUp";
import { ON_CLASH } from "#server/intake/queries";
import type { IntakeOptions } from "#server/intake/writes";
import { badField } from "#server/problem";

const number = (what: string, from: number, to: number) =>
  z.coerce
    .number(`${what} is a number.`)
    .int(`${what} is a whole number.`)
    .min(from, `${what} is ${from} at least.`)
    .max(to, `${what} is ${to} at most.`)
    .optional();

/** How an intake is read, as forms and uploads send it. */
export const intakeOptionsSchema = z.object({
  onClash: z
    .enum(ON_CLASH, {
      error: ({ input }) => `“${String(input)}” is not a choice: skip, replace or keep-both.`,
    })
    .optional(),
  purpose: z
    .enum(PURPOSES, { error: ({ input }) => `“${String(input)}” is not a purpose: near, far or backdrop.` })
    .optional(),
  itemSeconds: number("The time limit", 1, 3600),
  itemMib: number("The memory limit", 16, 65536),
  leastMaps: number("The fewest maps", 1, 9),
  leastPixels: number("The fewest pixels", 1, 16384),
});

/** @throws {Problem} that names the field. */
export function readOptions(fields: Record<string, string>): IntakeOptions {
  const given = Object.fromEntries(Object.entries(fields).filter(([, value]) => value !== ""));
  const read = intakeOptionsSchema.safeParse(given);
  if (read.success) return read.data;
  const [issue] = read.error.issues;
  throw badField(`/${issue.path.join("/")}`, issue.message);
}
