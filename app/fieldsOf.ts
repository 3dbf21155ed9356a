import { parseWithZod } from "@conform-to/zod/v4";
import { z } from "zod";
import { badField } from "#server/problem";

/** Of hidden fields that no screen of ours fills so: their own words would be Zod's. */
const UNREADABLE = "What was sent cannot be read";

/**
 * The fields of a form by a schema: what is empty is not there, numbers and ticks are read as such, what comes several times is a list.
 * @throws {Problem} naming the first field that does not fit, in the schema's words where it has some
 */
export function fieldsOf<S extends z.ZodType>(form: FormData, schema: S): z.output<S> {
  const read = parseWithZod(plainNames(form), { schema, error: wordsOf });
  if (read.status === "success") return read.value;
  const [field, messages] = Object.entries(read.error ?? {})[0] ?? ["", null];
  const message = messages?.[0] ?? UNREADABLE;
  throw badField(
    `/${field}`,
    message === UNREADABLE ? `${UNREADABLE} (${field}). Load the page again and repeat it.` : message,
  );
}

/** Names that the package would take for paths into lists and objects, which may be as long as they will, are none of ours. */
function plainNames(form: FormData): FormData {
  const plain = new FormData();
  for (const [name, value] of form) if (/^[a-z]\w*$/i.test(name)) plain.append(name, value);
  return plain;
}

/** What a schema says that has no words of its own. */
function wordsOf(issue: z.core.$ZodRawIssue): string {
  const unit = issue.origin === "string" ? " characters" : "";
  if (issue.code === "too_small") return `${String(issue.minimum)}${unit} is the least.`;
  if (issue.code === "too_big") return `${String(issue.maximum)}${unit} is the most.`;
  return UNREADABLE;
}

const NOTHING = "That is nothing that can be done here.";

/** What a form with several buttons asks for: each a shape of its own, by the field `intent`. */
export const intents = <const O extends [z.ZodObject, ...z.ZodObject[]]>(...options: O) =>
  z.discriminatedUnion("intent", options as never, NOTHING) as unknown as z.ZodType<z.output<O[number]>>;

/** One of them. */
export const intent = <const N extends string, F extends z.ZodRawShape = Record<never, never>>(
  name: N,
  fields: F = {} as F,
) => z.object({ intent: z.literal(name), ...fields });

/** The longest name of anything. */
const LONGEST_NAME = 200;

/** A name, without the spaces around it. @param what is named, as it is said to people: “the collection” */
export function nameField(what: string) {
  const message = `Give ${what} a name of 1 to ${LONGEST_NAME} characters.`;
  return z.string(message).trim().min(1, message).max(LONGEST_NAME, message);
}

/** A text or an id that may be left empty. */
export const orNull = <S extends z.ZodType>(field: S) => field.optional().transform((value) => value ?? null);
