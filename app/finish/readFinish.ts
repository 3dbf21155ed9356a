import { z } from "zod";
import { correctionSchema, finishSchema, type Corrections, type FinishChange } from "#core/finish/finish";
import { FINISH_FIELDS } from "#core/finish/valueFacts";
import type { FinishFields } from "#core/finish/finishValues";
import { badField } from "#server/problem";
import { fieldsOf, nameField } from "../fieldsOf";
import { troubleOf, typedValue, typedWear } from "./typedFinish";

/** The values of the form: what is not there stays, what is empty is taken away where it can be. @throws {Problem} naming the field */
export function readValues(form: FormData): Corrections[string] {
  const fields: Record<string, unknown> = {};
  for (const field of FINISH_FIELDS) {
    if (!form.has(field)) continue;
    const typed = String(form.get(field)).trim();
    const trouble = troubleOf(field, typed);
    if (typed === "") {
      // Of those that every finish has, an empty one is no answer, and stays.
      if (trouble === undefined) fields[field] = null;
    } else if (trouble !== undefined) throw badField(`/${field}`, trouble);
    else fields[field] = typedValue(field, typed);
  }
  return correctionSchema.parse(fields);
}

/** The wear layers of the form. @throws {Problem} naming the one that cannot be laid on */
function readWear(form: FormData): Pick<FinishChange, "wear"> {
  if (!form.has("wear")) return {};
  const read = wearTextSchema.safeParse(String(form.get("wear")));
  if (!read.success) {
    const [{ path, message }] = read.error.issues;
    const layer = typeof path[0] === "number" ? `Layer ${path[0] + 1}: ` : "";
    throw badField(`/wear/${path.join("/")}`, `${layer}${message}`);
  }
  return { wear: read.data.length === 0 ? null : read.data };
}

const wearTextSchema = z
  .string()
  .transform((text, context) => {
    try {
      return typedWear(text);
    } catch {
      context.addIssue("The wear layers cannot be read.");
      return z.NEVER;
    }
  })
  .pipe(finishSchema.shape.wear.unwrap());

/** The whole form of the finish. @throws {Problem} naming the field */
export function readFinish(form: FormData): FinishFields & { name: string } {
  const finish = { ...readValues(form), ...readWear(form) };
  const direction = form.get("normalDirection");
  return {
    name: fieldsOf(form, z.object({ name: nameField("the material") })).name,
    finish,
    ...((direction === "+Y" || direction === "-Y") && { normalDirection: direction }),
  };
}
