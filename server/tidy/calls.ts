import { z } from "zod";
import { call, type Call } from "#server/http/api/call";
import { idSchema } from "#server/http/api/shapes";
import { keepOneCollection, mergeTwins } from "#server/tidy/commands";
import { startLook } from "#server/tidy/originals";
import { readTidy } from "#server/tidy/readTidy";

const shown = z.object({ id: z.string(), name: z.string(), code: z.string() });
const tidyQuery = z.object({ days: z.coerce.number().int().min(0).max(36_500).default(30) });
const lookShape = z.object({
  id: z.string(),
  madeAt: z.iso.datetime(),
  doneAt: z.iso.datetime().nullable(),
  lookedAt: z.number(),
  total: z.number(),
  failure: z.string().nullable(),
});

const shownOf = ({ id, name, code }: z.infer<typeof shown>) => ({ id, name, code });

/** What there is to tidy, and the acts that do it. */
export const TIDY_CALLS: Call[] = [
  call({
    method: "get",
    path: "/tidy",
    summary:
      "What to tidy: intakes that brought the same files, collections with the same contents, materials that nobody has used for so many days, licences in trouble, originals that are gone",
    status: 200,
    query: tidyQuery,
    answer: z.object({
      twins: z.array(
        z.object({ first: z.string(), later: z.string(), pairs: z.array(z.tuple([shown, shown])) }),
      ),
      collections: z.array(
        z.object({
          materials: z.number(),
          collections: z.array(z.object({ id: z.string(), name: z.string(), projects: z.array(z.string()) })),
        }),
      ),
      unused: z.object({ total: z.number(), ids: z.array(z.string()) }),
      licences: z.array(
        z.object({
          id: z.string(),
          name: z.string(),
          why: z.enum(["ended", "ends", "others"]),
          endsOn: z.string().nullable(),
          materials: z.number(),
          projects: z.array(z.string()),
        }),
      ),
      gone: z.array(
        z.object({ sha256: z.string(), fileName: z.string(), role: z.string(), material: shown }),
      ),
      looked: lookShape.nullable(),
    }),
    async handle({ query: { days } }) {
      const { twins, same, unused, licences, gone, looked } = await readTidy(days);
      return {
        twins: twins.map(({ first, later, pairs }) => ({
          ...{ first: first.id, later: later.id },
          pairs: pairs.map(([one, other]): [z.infer<typeof shown>, z.infer<typeof shown>] => [
            shownOf(one),
            shownOf(other),
          ]),
        })),
        collections: same.map(({ materials, collections }) => ({
          materials,
          collections: collections.map(({ id, name, projects }) => ({ id, name, projects })),
        })),
        unused: { total: unused.total, ids: unused.ids },
        licences: licences.map(({ samples: _, ...licence }) => licence),
        gone: gone.map(({ sha256, fileName, role, material }) => ({
          ...{ sha256, fileName, role, material: shownOf(material) },
        })),
        looked: looked
          ? {
              ...{ id: looked.id, lookedAt: looked.lookedAt, total: looked.total, failure: looked.failure },
              ...{ madeAt: looked.madeAt.toISOString(), doneAt: looked.doneAt?.toISOString() ?? null },
            }
          : null,
      };
    },
  }),
  call({
    method: "post",
    path: "/tidy/twins",
    summary:
      "Merge each material of a later intake with the one of an earlier intake that has the same files, as proposed",
    status: 200,
    body: z.object({ first: idSchema, later: idSchema }).strict(),
    answer: z.object({
      merged: z.number(),
      failed: z.array(z.object({ name: z.string(), reason: z.string() })),
    }),
    handle: ({ body, person }) => mergeTwins(body.first, body.later, person),
  }),
  call({
    method: "post",
    path: "/tidy/collections",
    summary: "Keep one of the collections that hold the same, in place of the others",
    status: 200,
    body: z.object({ keep: idSchema }).strict(),
    answer: z.object({ deleted: z.array(z.string()) }),
    handle: ({ body, person }) => keepOneCollection(body.keep, person),
  }),
  call({
    method: "post",
    path: "/tidy/originals",
    summary: "Look whether the file of every map is still in the store, as a job",
    status: 202,
    answer: z.object({ id: z.string() }),
    handle: async ({ person }) => ({ id: await startLook(person) }),
  }),
];
