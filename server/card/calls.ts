import { z } from "zod";
import { CARD_QUESTION_NAMES } from "#core/card/cardQuestions";
import { createCard, handInCardPicture, profileOfCard, removeCard } from "#server/card/commands";
import { cardSchema, findCard, listCards, type CardRow } from "#server/card/sql";
import { database } from "#server/db/database";
import { call, type Call } from "#server/http/api/call";
import { listOf } from "#server/http/api/shapes";
import { notFound } from "#server/problem";

const cardShape = cardSchema.omit({ madeBy: true, madeAt: true });
const answerOf = ({ madeBy: _by, madeAt: _at, ...card }: CardRow) => card;

/** Cards by whose picture a renderer's conventions are told. */
export const CARD_CALLS: Call[] = [
  call({
    method: "get",
    path: "/cards",
    summary: "The studio's test cards, the newest first, with what was read of their pictures",
    status: 200,
    answer: listOf(cardShape),
    handle: async () => ({ items: (await listCards(database())).map(answerOf), next: null }),
  }),
  call({
    method: "post",
    path: "/cards",
    summary: "Begin a test card for a renderer; its zip is below /files once it is painted",
    status: 202,
    body: z.object({ name: z.string().min(1).max(80) }).strict(),
    answer: cardShape,
    handle: async ({ body, person }) => answerOf(await createCard(body.name, person)),
  }),
  call({
    method: "get",
    path: "/cards/:id",
    summary: "A test card, and what was read of its picture",
    status: 200,
    answer: cardShape,
    async handle({ params }) {
      const card = await findCard(database(), params.id);
      if (!card) throw notFound("test card");
      return answerOf(card);
    },
  }),
  {
    method: "post",
    path: "/cards/:id/picture",
    summary: "Hand in what the renderer made of the card, as the body; it is read by the worker",
    status: 202,
    takes: { "image/*": { schema: { type: "string", format: "binary" } } },
    gives: { "application/json": { schema: z.toJSONSchema(cardShape) } },
    async raw({ params, person, request, response }) {
      const card = await handInCardPicture(params.id, request, person);
      response.status(202).json(cardShape.parse(answerOf(card)));
    },
  },
  call({
    method: "post",
    path: "/cards/:id/profile",
    summary: "Make the renderer's profile by what its card says, and by answers in place of it",
    status: 201,
    body: z
      .object({
        name: z.string().min(1).max(80).optional(),
        unit: z.enum(["mm", "cm", "m", "in"]),
        answers: z.partialRecord(z.enum(CARD_QUESTION_NAMES), z.string().max(60)).default({}),
      })
      .strict(),
    answer: z.object({ id: z.string(), revision: z.number() }),
    async handle({ params, body: { name, unit, answers }, person }) {
      const { profile, revision } = await profileOfCard(params.id, { name, unit }, answers, person);
      return { id: profile.id, revision };
    },
  }),
  call({
    method: "delete",
    path: "/cards/:id",
    summary: "Delete a test card; the profile that was made by it stays",
    status: 200,
    answer: z.object({ id: z.string() }),
    async handle({ params }) {
      await removeCard(params.id);
      return { id: params.id };
    },
  }),
];
