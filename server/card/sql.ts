import { z } from "zod";
import { CARD_LAYOUT } from "#core/card/layout";
import { CARD_QUESTION_NAMES, type CardQuestion } from "#core/card/cardQuestions";
import type { CardAnswer } from "#core/card/readCard";
import { type Db, oneRow, rows } from "#server/db/database";

const CARD_STATES = ["making", "waiting", "reading", "read", "failed"] as const;

const cardAnswerSchema = z.object({
  value: z.string().nullable(),
  isSure: z.boolean(),
  why: z.string(),
  patches: z.array(z.string()),
});

const NOT_ASKED: CardAnswer = {
  value: null,
  isSure: false,
  why: "This was not asked yet when the picture was read.",
  patches: [],
};

const cardReadingSchema = z.object({
  isMirrored: z.boolean(),
  /** How far it is turned in the picture, in quarters clockwise. */
  quarters: z.number().int(),
  isRepeated: z.boolean(),
  // What was read before a question was there says nothing of it.
  answers: z.object(
    Object.fromEntries(
      CARD_QUESTION_NAMES.map((question) => [question, cardAnswerSchema.default(NOT_ASKED)]),
    ) as Record<CardQuestion, z.ZodDefault<typeof cardAnswerSchema>>,
  ),
});
export type KeptReading = z.infer<typeof cardReadingSchema>;

export const cardSchema = z.object({
  id: z.string(),
  number: z.number().int(),
  /** By which patches were painted: only cards of today's layout are read. */
  layout: z.number().int(),
  /** What the renderer is called. */
  name: z.string(),
  /** "making" until it is painted, "waiting" until a picture of it comes. */
  state: z.enum(CARD_STATES),
  failure: z.string().nullable(),
  /** Hash of the zip of its images. */
  files: z.string().nullable(),
  /** Hashes of the picture that was handed in, and of the card in it as it looks from straight ahead. */
  picture: z.string().nullable(),
  flat: z.string().nullable(),
  reading: cardReadingSchema.nullable(),
  /** The profile that was made by it. */
  profile: z.string().nullable(),
  madeBy: z.string(),
  madeAt: z.coerce.date(),
});
export type CardRow = z.infer<typeof cardSchema>;

const CARD = `SELECT c.id, c.number, c.layout, c.name, c.state, c.failure, c.files, c.picture, c.flat, c.reading, c.profile, p.name AS "madeBy",
    c.made_at AS "madeAt" FROM test_cards c JOIN people p ON p.id = c.made_by`;

export const listCards = (db: Db): Promise<CardRow[]> =>
  rows(db, cardSchema, `${CARD} ORDER BY c.made_at DESC, c.id`);

export const findCard = (db: Db, id: string): Promise<CardRow | undefined> =>
  oneRow(db, cardSchema, `${CARD} WHERE c.id = $1`, [id]);

/** With the smallest number that no other one has. @returns nothing where all are taken */
export async function insertCard(db: Db, name: string, person: string): Promise<string | undefined> {
  const row = await oneRow(
    db,
    z.object({ id: z.string() }),
    `INSERT INTO test_cards (number, name, made_by, layout)
     SELECT n, $1, $2, $3 FROM generate_series(1, 4095) AS n WHERE n NOT IN (SELECT number FROM test_cards) ORDER BY n LIMIT 1
     RETURNING id`,
    [name, person, CARD_LAYOUT],
  );
  return row?.id;
}

/** It was painted by today's layout, whenever it was asked for. */
export async function setCardFiles(db: Db, id: string, files: string): Promise<void> {
  await db.query(
    "UPDATE test_cards SET files = $2, layout = $3, state = 'waiting', failure = NULL WHERE id = $1 AND state = 'making'",
    [id, files, CARD_LAYOUT],
  );
}

/** A new picture takes the place of the one before, with what that said. @returns whether there is such a card */
export async function setCardPicture(
  db: Db,
  id: string,
  picture: { sha256: string; bytes: number; person: string },
): Promise<boolean> {
  const done = await db.query(
    `UPDATE test_cards SET picture = $2, picture_by = $4, picture_at = now(),
       picture_bytes = CASE WHEN picture_at > now() - interval '1 day' THEN picture_bytes ELSE 0 END + $3, flat = NULL, reading = NULL, state = 'reading', failure = NULL
      WHERE id = $1 AND files IS NOT NULL`,
    [id, picture.sha256, picture.bytes, picture.person],
  );
  return done.rowCount === 1;
}

/** Of the picture that was read, unless another one has come meanwhile. */
export async function setCardReading(
  db: Db,
  id: string,
  picture: string,
  { reading, flat }: { reading: KeptReading; flat: string },
): Promise<void> {
  await db.query(
    `UPDATE test_cards SET reading = $3, flat = $4, state = 'read', failure = NULL WHERE id = $1 AND picture = $2 AND state = 'reading'`,
    [id, picture, JSON.stringify(reading), flat],
  );
}

/** @param picture that could not be read, unless another one has come meanwhile; null where the card could not be painted */
export async function failCard(db: Db, id: string, failure: string, picture: string | null): Promise<void> {
  await db.query(
    `UPDATE test_cards SET state = 'failed', failure = $2
      WHERE id = $1 AND picture IS NOT DISTINCT FROM $3 AND state IN ('making', 'reading')`,
    [id, failure, picture],
  );
}

export async function setCardProfile(db: Db, id: string, profile: string): Promise<void> {
  await db.query("UPDATE test_cards SET profile = $2 WHERE id = $1", [id, profile]);
}

export async function deleteCard(db: Db, id: string): Promise<boolean> {
  return (await db.query("DELETE FROM test_cards WHERE id = $1", [id])).rowCount === 1;
}
