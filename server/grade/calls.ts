import { z } from "zod";
import { gradeSchema, GRADES } from "#core/finish/grades";
import { database } from "#server/db/database";
import { changeGrade, createGrade, removeGrade } from "#server/grade/commands";
import { gradeRowSchema, listGrades } from "#server/grade/sql";
import { call, type Call } from "#server/http/api/call";
import { listOf } from "#server/http/api/shapes";

/** Surface grades: what a supplier's word for a surface sets. */
export const GRADE_CALLS: Call[] = [
  call({
    method: "get",
    path: "/grades",
    summary: "The surface grades: those that everybody has, then the studio's own, which have an id",
    status: 200,
    answer: listOf(gradeSchema.extend({ id: z.string().nullable() })),
    handle: async () => ({
      items: [...GRADES.map((grade) => ({ id: null, ...grade })), ...(await listGrades(database()))],
      next: null,
    }),
  }),
  call({
    method: "post",
    path: "/grades",
    summary: "Keep a surface grade of the studio's own",
    status: 201,
    body: gradeSchema,
    answer: gradeRowSchema,
    handle: ({ body, person }) => createGrade(body, person),
  }),
  call({
    method: "put",
    path: "/grades/:id",
    summary: "Change a surface grade of the studio's own; materials keep what it gave them",
    status: 200,
    body: gradeSchema,
    answer: gradeRowSchema,
    handle: ({ params, body }) => changeGrade(params.id, body),
  }),
  call({
    method: "delete",
    path: "/grades/:id",
    summary: "Delete a surface grade of the studio's own",
    status: 200,
    answer: z.object({ id: z.string() }),
    async handle({ params }) {
      await removeGrade(params.id);
      return { id: params.id };
    },
  }),
];
