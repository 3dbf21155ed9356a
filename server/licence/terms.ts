import { z } from "zod";
import { PRICES } from "#core/library/licence";

const text = z.string().trim().min(1, "Say what it is called.").max(200, "At most 200 characters are kept.");

/** What may be changed of a licence; what is not named stays. */
export const termsSchema = z
  .object({
    name: text,
    price: z.enum(PRICES),
    project: z.uuid("is not an id").nullable(),
    endsOn: z.iso.date("A day is written 2027-03-31.").nullable(),
    credit: text.nullable(),
  })
  .partial()
  .strict();
export type TermsChange = z.infer<typeof termsSchema>;
