import Ajv2020, { type ValidateFunction } from "ajv/dist/2020.js";
import { CALLS } from "#server/main/calls";
import { describeCalls } from "#server/http/api/openapi";

interface Operation {
  responses: Record<string, { content?: Record<string, { schema?: object }> }>;
}

const described = describeCalls(CALLS) as {
  paths: Record<string, Record<string, Operation>>;
  components: object;
};
// Formats and the words of OpenAPI besides JSON Schema are not what is checked.
// What is made of a schema is run few times: it is not worth being made smaller first.
const ajv = new Ajv2020({
  strict: false,
  validateFormats: false,
  allErrors: true,
  code: { optimize: false },
});
const compiled = new Map<string, ValidateFunction>();

/** The call of the description that a request made, and which of its answers came. */
function operationOf(method: string, path: string): { name: string; operation: Operation } | undefined {
  const words = path.split("?")[0].split("/");
  const fits = Object.keys(described.paths)
    .filter((one) => {
      const parts = one.split("/");
      return (
        parts.length === words.length && parts.every((part, i) => part.startsWith("{") || part === words[i])
      );
    })
    // A fixed word goes before a place for an id.
    .sort((a, b) => a.split("{").length - b.split("{").length);
  const template = fits.find((one) => described.paths[one][method.toLowerCase()]);
  return template === undefined
    ? undefined
    : {
        name: `${method} ${template.replaceAll(/\{(\w+)\}/g, ":$1")}`,
        operation: described.paths[template][method.toLowerCase()],
      };
}

/**
 * Holds an answer against openapi.json.
 * @returns the call that it answers, by its name in the table of who may do what
 * @throws {Error} where the status, the type or the body is not as described
 */
export function answerFits(
  method: string,
  path: string,
  status: number,
  type: string,
  body: unknown,
): string | undefined {
  const found = operationOf(method, path);
  if (!found) return undefined;
  const { name, operation } = found;
  const response = operation.responses[status] ?? (status >= 400 ? operation.responses.default : undefined);
  if (!response) throw new Error(`${name} answered ${status}, which openapi.json does not say.`);
  const plain = type.split(";")[0];
  const content = response.content?.[plain];
  if (!content) throw new Error(`${name} answered ${status} with ${plain}, which openapi.json does not say.`);
  if (!content.schema || !plain.endsWith("json")) return name;
  const key = `${name} ${status >= 400 ? "default" : status}`;
  const check = compiled.get(key) ?? ajv.compile({ ...content.schema, components: described.components });
  compiled.set(key, check);
  if (!check(body))
    throw new Error(`${name} ${status}: ${ajv.errorsText(check.errors, { dataVar: "answer" })}`);
  return name;
}
