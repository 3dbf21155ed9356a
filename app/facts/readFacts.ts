import { factsSchema, type FactsChange } from "#server/material/facts";
import { badField } from "#server/problem";

const FIELDS = ["family", "tags", "supplier", "product", "productCode", "page", "licence"];

/** Reads the form of a material's facts; an empty field takes the fact away. @throws {Problem} naming the field that does not fit */
export function readFacts(form: FormData): FactsChange {
  const text = (field: string) => String(form.get(field) ?? "").trim() || null;
  // Saving takes away what is empty: a form that is none of ours must not empty everything.
  if (!FIELDS.every((field) => form.has(field)))
    throw badField("/supplier", "What was sent is not the whole form. Load the page again and repeat it.");
  const choice = text("licence");
  const read = factsSchema.safeParse({
    family: text("family"),
    tags: (text("tags") ?? "")
      .split(",")
      .map((tag) => tag.trim())
      .filter(Boolean),
    supplier: text("supplier"),
    product: text("product"),
    productCode: text("productCode"),
    page: text("page"),
    licence:
      choice === null
        ? null
        : choice !== "new"
          ? { id: choice }
          : {
              name: text("name") ?? "",
              price: text("price") ?? "unknown",
              project: text("project"),
              endsOn: text("endsOn"),
              credit: text("credit"),
            },
  });
  if (read.success) return read.data;
  const [issue] = read.error.issues;
  // Of a licence's two forms only one was meant.
  const inner = issue.code === "invalid_union" ? issue.errors[choice === "new" ? 1 : 0]?.[0] : undefined;
  const path = [...issue.path, ...(inner?.path ?? [])];
  const field = path[0] === "tags" ? "tags" : path.at(-1) === "id" ? "licence" : String(path.at(-1));
  throw badField(`/${field}`, (inner ?? issue).message);
}
