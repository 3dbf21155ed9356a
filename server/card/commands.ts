import { Readable } from "node:stream";
import type { IncomingMessage } from "node:http";
import { CARD_QUESTIONS, CARD_QUESTION_NAMES, type CardAnswers } from "#core/card/cardQuestions";
import { CARD_LAYOUT } from "#core/card/layout";
import { profileOfAnswers } from "#core/card/profileOfAnswers";
import type { Profile } from "#core/convert/profile";
import { plainLine } from "#core/text/plainText";
import { Refusal } from "#core/text/refusal";
import type { Person } from "#server/auth/person";
import {
  deleteCard,
  failCard as setFailed,
  findCard,
  insertCard,
  listCards,
  setCardFiles,
  setCardPicture,
  setCardProfile,
  setCardReading,
  type CardRow,
} from "#server/card/sql";
import { database, inTransaction } from "#server/db/database";
import { announce } from "#server/events/events";
import { studyFile } from "#server/images/studyFile";
import { checkDayLimit } from "#server/intake/receiving/dayLimit";
import { addJob } from "#server/jobs/queue";
import { pool } from "#server/pool/pool";
import { badField, conflict, notFound } from "#server/problem";
import { createProfile } from "#server/profile/commands";
import type { ProfileRow } from "#server/profile/sql";
import { receiveBody } from "#server/http/receiveBody";
import { MOST_PICTURE_BYTES } from "#server/http/bodies";
import { insertFile } from "#server/store/sql";
import { fileStore } from "#server/store/store";

/** More are not kept: each is one renderer. */
const MOST_CARDS = 200;

/** What one picture may cost to be read. */
const LIMITS = { seconds: 60, mebibytes: 2048 };

const EARLIER_CARD =
  "This card was painted before test cards were changed: no picture of it is read any more. Make another card, and render that one.";

/** Why a picture of a card is not read; nothing where it is. */
export const whyUnread = ({ layout }: Pick<CardRow, "layout">): string | null =>
  layout === CARD_LAYOUT ? null : EARLIER_CARD;

/** Begins a card for a renderer; the worker paints it. @throws {Problem} */
export async function createCard(name: string, person: Person): Promise<CardRow> {
  const plain = plainLine(name).trim().slice(0, 80);
  if (!plain) throw badField("/name", "Say what the renderer is called.");
  return inTransaction(async (db) => {
    await db.query("LOCK TABLE test_cards IN SHARE ROW EXCLUSIVE MODE");
    if ((await listCards(db)).length >= MOST_CARDS)
      throw conflict(`The studio keeps up to ${MOST_CARDS} test cards. Delete one that you need no more.`);
    const id = (await insertCard(db, plain, person.id))!;
    await addJob(db, "make-card", { card: id });
    await announce(db, { topic: "library", id });
    return (await findCard(db, id))!;
  });
}

/** Paints a card. Run by the worker. */
export async function makeCard(id: string): Promise<void> {
  const card = await findCard(database(), id);
  if (card?.state !== "making") return;
  const kept = await fileStore().make((to) => pool.makeCard({ number: card.number, to }, LIMITS));
  await inTransaction(async (db) => {
    await insertFile(db, { ...kept, mediaType: "application/zip" });
    await setCardFiles(db, id, kept.sha256);
    await announce(db, { topic: "library", id });
  });
}

/**
 * Keeps what a renderer made of a card: the body of a request. The worker reads it.
 * @throws {Problem} 404, 409 where the card is not painted yet, 413 where the picture is too large
 */
export async function handInCardPicture(
  id: string,
  request: IncomingMessage,
  person: Person,
): Promise<CardRow> {
  const card = await findCard(database(), id);
  if (!card) throw notFound("test card");
  if (card.files === null)
    throw conflict(
      card.state === "failed"
        ? "The card could not be painted. Delete it, and make another one."
        : "The card is still being painted. Try again in a moment.",
    );
  const unread = whyUnread(card);
  if (unread !== null) throw conflict(unread);
  await checkDayLimit(person.id, Number(request.headers["content-length"] ?? 0));
  const kept = await receiveBody(request, { most: MOST_PICTURE_BYTES, what: "A picture" });
  await inTransaction(async (db) => {
    await insertFile(db, { ...kept, mediaType: "application/octet-stream" });
    if (!(await setCardPicture(db, id, { ...kept, person: person.id }))) throw notFound("test card");
    await addJob(db, "read-card", { card: id, picture: kept.sha256 });
    await announce(db, { topic: "library", id });
  });
  return (await findCard(database(), id))!;
}

/** Reads a picture that was handed in. Run by the worker; @throws {Refusal} where no card can be read in it, or another one */
export async function readCardPicture(id: string, picture: string): Promise<void> {
  const card = await findCard(database(), id);
  if (card?.state !== "reading" || card.picture !== picture) return;
  const unread = whyUnread(card);
  if (unread !== null) throw new Refusal(unread);
  const { format } = await studyFile(picture, LIMITS);
  const { reading, flat } = await fileStore().withLocal([picture], (pathOf) =>
    pool.readCardPicture({ path: pathOf(picture), format }, LIMITS),
  );
  const { placed, answers } = reading;
  if (placed.number !== card.number)
    throw new Refusal(
      `The picture shows test card ${placed.number}, and this is card ${card.number}. Hand it in there, or render this card.`,
    );
  const kept = await fileStore().keep(Readable.from([Buffer.from(flat)]));
  const { isMirrored, quarters, isRepeated } = placed;
  await inTransaction(async (db) => {
    await insertFile(db, { ...kept, mediaType: "image/png" });
    await setCardReading(db, id, picture, {
      reading: { isMirrored, quarters, isRepeated, answers },
      flat: kept.sha256,
    });
    await announce(db, { topic: "library", id });
  });
}

/** Says why a card was not painted, or a picture of it not read. */
export async function failCard(id: string, reason: string, picture: string | null): Promise<void> {
  await inTransaction(async (db) => {
    await setFailed(db, id, reason, picture);
    await announce(db, { topic: "library", id });
  });
}

export type GivenAnswers = { [Q in keyof CardAnswers]?: string };

/**
 * Makes the profile of a renderer by what its card says, and by what somebody says in place of it.
 * @param given goes before what was read
 * @throws {Problem} naming a question that neither answers
 */
export async function profileOfCard(
  id: string,
  renderer: { name?: string; unit: Profile["unit"] },
  given: GivenAnswers,
  person: Person,
): Promise<ProfileRow> {
  const card = await findCard(database(), id);
  if (!card) throw notFound("test card");
  const answers = Object.fromEntries(
    CARD_QUESTION_NAMES.map((question) => {
      const { asks, options } = CARD_QUESTIONS[question];
      const value = given[question] ?? card.reading?.answers[question].value;
      if (value === undefined || value === null || !Object.hasOwn(options, value))
        throw badField(
          `/answers/${question}`,
          given[question] === undefined
            ? `The picture cannot tell: ${asks} Say it yourself.`
            : `${asks} It is one of: ${Object.keys(options).join(", ")}.`,
        );
      return [question, value];
    }),
  ) as CardAnswers;
  checkAgreement(answers);
  const made = await createProfile(
    profileOfAnswers({ name: renderer.name ?? card.name, unit: renderer.unit }, answers),
    person,
  );
  await setCardProfile(database(), id, made.profile.id);
  return made;
}

/** What lies in a packed image is of it, and nothing else is. */
function checkAgreement({ packing, occlusion, metal, shine, height, amount }: CardAnswers): void {
  if ((height === "none") !== (amount === "none"))
    throw badField(
      "/answers/amount",
      height === "none"
        ? "No height is read, so none comes out. Say that, or what a height does."
        : "A height is read. Say how high it comes out, or that none is read.",
    );
  if (packing !== "none" && shine === "none")
    throw badField(
      "/answers/shine",
      "A packed image holds shine as well. Say whether it is roughness or gloss, or that no packed image is read.",
    );
  for (const [question, value] of [
    ["occlusion", occlusion],
    ["metal", metal],
  ] as const)
    if ((value === "packed") !== (packing !== "none"))
      throw badField(
        `/answers/${question}`,
        packing === "none"
          ? `There is no packed image for ${question} to lie in. Say what lies in its channels, or that ${question} lies elsewhere.`
          : `A packed image holds ${question} as well. Say that it lies there, or that no packed image is read.`,
      );
}

export async function removeCard(id: string): Promise<void> {
  await inTransaction(async (db) => {
    if (!(await deleteCard(db, id))) throw notFound("test card");
    await announce(db, { topic: "library", id });
  });
}
