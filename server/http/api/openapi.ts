import { z } from "zod";
import { nameOf, type Call } from "#server/http/api/call";
import { CALLS } from "#server/auth/access";

/** The description of the HTTP interface (OpenAPI 3.1), from the schemas that check it. */
export function describeCalls(calls: Call[]): Record<string, unknown> {
  const paths: Record<string, Record<string, unknown>> = {};
  for (const call of calls) {
    const path = call.path.replaceAll(/:(\w+)/g, "{$1}");
    (paths[path] ??= {})[call.method] = describe(call);
  }
  return {
    openapi: "3.1.0",
    info: {
      title: "Kalonomy",
      version: "1",
      description: "Lengths are millimetres; ids are strings; errors are application/problem+json.",
    },
    servers: [{ url: "/api/v1" }],
    security: [{ token: [] }],
    paths,
    components: {
      securitySchemes: { token: { type: "http", scheme: "bearer" } },
      schemas: { Problem: schemaOf(problemShape, "output") },
    },
  };
}

function describe(call: Call): Record<string, unknown> {
  const inPath = [...call.path.matchAll(/:(\w+)/g)].map(([, name]) => ({
    name,
    in: "path",
    required: true,
    schema: { type: "string" },
  }));
  const problem = {
    description: "Refused, with the reason",
    content: { "application/problem+json": { schema: { $ref: "#/components/schemas/Problem" } } },
  };
  if ("raw" in call)
    return {
      summary: call.summary,
      description: `For people who may ${CALLS[nameOf(call)]}.`,
      parameters: inPath,
      ...(call.takes && { requestBody: { required: true, content: call.takes } }),
      responses: { [call.status]: { description: "Done", content: call.gives }, default: problem },
    };
  return {
    summary: call.summary,
    description: `For people who may ${CALLS[nameOf(call)]}.`,
    parameters: [...inPath, ...queryParameters(call.query)],
    ...(call.body && {
      requestBody: { required: true, content: { "application/json": { schema: schemaOf(call.body) } } },
    }),
    responses: {
      [call.status]: {
        description: "Done",
        content: { "application/json": { schema: schemaOf(call.answer, "output") } },
      },
      default: problem,
    },
  };
}

function queryParameters(query: z.ZodType | undefined) {
  const { properties = {} } = query ? (schemaOf(query) as { properties?: Record<string, unknown> }) : {};
  return Object.entries(properties).map(([name, schema]) => ({ name, in: "query", schema }));
}

function schemaOf(schema: z.ZodType, io: "input" | "output" = "input"): unknown {
  const { $schema: _, ...rest } = z.toJSONSchema(schema, {
    io,
    unrepresentable: "any",
    // An answer may say more one day; scripts that check answers must not stop at that.
    override: ({ jsonSchema }) => {
      if (io === "output" && jsonSchema.additionalProperties === false)
        delete jsonSchema.additionalProperties;
    },
  });
  return rest;
}

/** RFC 9457; `pointer` says which field, `request` is the number under which a defect is logged. */
const problemShape = z.object({
  type: z.string(),
  status: z.number(),
  title: z.string(),
  detail: z.string(),
  pointer: z.string().optional(),
  request: z.string().optional(),
});
