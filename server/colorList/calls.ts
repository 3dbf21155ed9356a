import { z } from "zod";
import { MEANINGS } from "#core/colorList/meaning";
import { WHITES } from "#core/colorList/white";
import {
  changeColorList,
  handInColorList,
  listFactsSchema,
  makeColors,
  removeColorList,
  undoColors,
} from "#server/colorList/commands";
import {
  COLOR_LIST_STATES,
  findColorList,
  ITEM_STATES,
  listColorLists,
  listSaid,
  type ColorListRow,
} from "#server/colorList/sql";
import { database } from "#server/db/database";
import { call, type Call } from "#server/http/api/call";
import { listOf } from "#server/http/api/shapes";
import { notFound } from "#server/problem";

const rowSaid = z.object({ row: z.number(), code: z.string().nullable(), detail: z.string() });

const listShape = z.object({
  id: z.string(),
  name: z.string(),
  state: z.enum(COLOR_LIST_STATES),
  failure: z.string().nullable(),
  supplier: z.string(),
  /** The line that it became; null as long as it has become none. */
  line: z.object({ id: z.string(), name: z.string() }).nullable(),
  made: z.number(),
  changed: z.number(),
  same: z.number(),
  counts: z.partialRecord(z.enum(ITEM_STATES), z.number()),
  /** Which column says what; the white of measured colours, and how that is known. */
  columns: z.partialRecord(z.enum(MEANINGS), z.number()).nullable(),
  white: z.enum(WHITES).nullable(),
  whiteFrom: z.enum(["said", "told", "assumed"]).nullable(),
  notes: z.array(z.string()),
  /** What has to be said before it can be read. */
  lacking: z.string().nullable(),
  /** Rows that are no colour, and rows whose material was left as it is; at most 500 of each. */
  errors: z.array(rowSaid),
  kept: z.array(rowSaid),
});

async function answerOf(list: ColorListRow): Promise<z.input<typeof listShape>> {
  const reading = list.table?.reading ?? null;
  return {
    ...{ id: list.id, name: list.name, state: list.state, failure: list.failure, supplier: list.supplier },
    line: list.line === null ? null : { id: list.line, name: list.lineName },
    ...{ made: list.counts.made ?? 0, changed: list.counts.changed ?? 0, same: list.counts.same ?? 0 },
    ...{ counts: list.counts, columns: list.table?.columns ?? null, lacking: list.table?.lacking ?? null },
    ...{ white: reading?.white ?? null, whiteFrom: reading?.whiteFrom ?? null, notes: reading?.notes ?? [] },
    errors: reading?.errors ?? [],
    kept: (await listSaid(database(), list.id, "kept")).map(({ code, listed, said }) => ({
      ...{ row: listed.row, code, detail: said },
    })),
  };
}

async function mustFind(id: string): Promise<ColorListRow> {
  const list = await findColorList(database(), id);
  if (!list) throw notFound("list");
  return list;
}

/** Lists of coded colours that become lines of plain materials. */
export const COLOR_LIST_CALLS: Call[] = [
  {
    method: "post",
    path: "/lines/import",
    summary:
      "Hand in a list of coded colours (CSV or XLSX) as a form: file, supplier, and if wished line, family, sheet, white (D50 or D65), columns ({code: 0, hex: 2} as JSON); look=true stops after reading",
    status: 202,
    takes: {
      "multipart/form-data": {
        schema: {
          type: "object",
          required: ["file", "supplier"],
          properties: Object.fromEntries([
            ["file", { type: "string", format: "binary" }],
            ...["supplier", "line", "family", "sheet", "white", "columns", "look"].map((field) => [
              field,
              { type: "string" },
            ]),
          ]),
        },
      },
    },
    gives: { "application/json": { schema: z.toJSONSchema(listShape) } },
    async raw({ person, request, response }) {
      const list = await handInColorList(request, person);
      response
        .status(202)
        .location(`/api/v1/lines/imports/${list.id}`)
        .json(listShape.parse(await answerOf(list)));
    },
  },
  call({
    method: "get",
    path: "/lines/imports",
    summary: "Lists of colours that were handed in, the newest first",
    status: 200,
    answer: listOf(listShape),
    handle: async () => ({
      items: await Promise.all((await listColorLists(database())).map(answerOf)),
      next: null,
    }),
  }),
  call({
    method: "get",
    path: "/lines/imports/:id",
    summary: "What became of a list of colours, with what is wrong in it by row",
    status: 200,
    answer: listShape,
    handle: async ({ params }) => answerOf(await mustFind(params.id)),
  }),
  call({
    method: "patch",
    path: "/lines/imports/:id",
    summary: "Say what a list's columns, white, supplier or line are; it is read again",
    status: 202,
    body: listFactsSchema.partial().strict(),
    answer: listShape,
    handle: async ({ params, body }) => answerOf(await changeColorList(params.id, body)),
  }),
  call({
    method: "post",
    path: "/lines/imports/:id/make",
    summary: "Make the colours of a list that was read, or bring those that are there up to it",
    status: 202,
    answer: listShape,
    handle: async ({ params }) => answerOf(await makeColors(params.id)),
  }),
  call({
    method: "post",
    path: "/lines/imports/:id/undo",
    summary: "Take back what a list made, within 30 days, as far as nobody has changed it since",
    status: 202,
    answer: listShape,
    handle: async ({ params, person }) => answerOf(await undoColors(params.id, person)),
  }),
  call({
    method: "delete",
    path: "/lines/imports/:id",
    summary: "Delete a list that has made nothing",
    status: 200,
    answer: z.object({ id: z.string() }),
    async handle({ params }) {
      await removeColorList(params.id);
      return { id: params.id };
    },
  }),
];
