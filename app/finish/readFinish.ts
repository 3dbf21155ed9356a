import { z } from "zod";
import { finishChangeSchema } from "#core/finish/finish";
import { badField } from "#server/problem";
import { FINISH_NUMBERS, type FinishChange } from "./finishValues";

/** Reads the form of the finish. @throws {Problem} naming the field that does not fit */
export function readFinish(form: FormData): FinishChange {
  const fields: Record<string, unknown> = {};
  for (const field of FINISH_NUMBERS) {
    const typed = String(form.get(field) ?? "").trim();
    if (typed !== "") fields[field] = Number(typed.replace(",", "."));
  }
  const color = form.get("color");
  if (color) fields.color = String(color);
  const finish = finishChangeSchema.safeParse(fields);
  if (!finish.success) {
    const [issue] = finish.error.issues;
    throw badField(`/${issue.path.join("/")}`, `${issue.path.join(" ")}: ${issue.message}`);
  }
  const name = z.string().trim().min(1).max(200).safeParse(form.get("name"));
  if (!name.success) throw badField("/name", "A name has 1 to 200 characters.");
  const direction = form.get("normalDirection");
  return {
    name: name.data,
    finish: finish.data,
    ...((direction === "+Y" || direction === "-Y") && { normalDirection: direction }),
  };
}
