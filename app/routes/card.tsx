import { useState } from "react";
import { Alert, Form as Fields } from "react-bootstrap";
import { Form, Link, redirect, useNavigation } from "react-router";
import { z } from "zod";
import { CARD_QUESTIONS, CARD_QUESTION_NAMES, type CardQuestion } from "#core/card/cardQuestions";
import { CARD_INPUTS, cardFileName, CARD_STEPS } from "#core/card/cardPage";
import type { CardFile } from "#core/card/layout";
import { mayDo } from "#server/auth/levels";
import type { Person } from "#server/auth/person";
import { profileOfCard, removeCard, whyUnread } from "#server/card/commands";
import { findCard, type CardRow } from "#server/card/sql";
import { database } from "#server/db/database";
import { Button } from "../components/Button";
import { Refusal } from "../components/Refusal";
import { fieldsOf, intent, intents } from "../fieldsOf";
import { act, found, idOf, look } from "../guard";
import { CardAnswerRow } from "../profile/CardAnswerRow";
import { CardPicture } from "../profile/CardPicture";
import { HandInCard } from "../profile/HandInCard";
import { useCatchUp, useFresh } from "../view/live";
import { useTitleBlock } from "../view/titleBlock";
import { useKept } from "../view/useKept";
import type { Route } from "./+types/card";

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: `Test card ${loaderData?.card.number ?? ""} – Kalonomy` },
];

export const loader = look(async ({ params, person }: Route.LoaderArgs & { person: Person }) => {
  const card = found(await findCard(database(), idOf(params)), "test card");
  return { card, unread: whyUnread(card), mayMake: mayDo(person, "make") };
});

const answer = z.string().max(60).optional();
const ACTS = intents(
  intent("profile", {
    name: z.string("Say what the renderer is called.").trim().min(1).max(80),
    unit: z.enum(["mm", "cm", "m", "in"]),
    ...(Object.fromEntries(CARD_QUESTION_NAMES.map((question) => [question, answer])) as Record<
      CardQuestion,
      typeof answer
    >),
  }),
  intent("delete"),
);

export const action = act(
  async ({ params, form, person }: Route.ActionArgs & { form: FormData; person: Person }) => {
    const fields = fieldsOf(form, ACTS);
    const id = idOf(params);
    if (fields.intent === "delete") {
      await removeCard(id);
      return redirect("/profiles");
    }
    const { intent: _, name, unit, ...given } = fields;
    const { profile } = await profileOfCard(id, { name, unit }, given, person);
    return redirect(`/profiles/${profile.id}`);
  },
);

/** A renderer's conventions, by a picture that it made of a card. */
export default function CardPage({ loaderData, actionData: answered }: Route.ComponentProps) {
  const { card, unread, mayMake } = loaderData;
  const actionData = useKept(answered);
  const [looked, setLooked] = useState<CardQuestion>();
  useFresh((event) => event.topic === "library" && event.id === card.id);
  useCatchUp(card.id, card.state === "making" || card.state === "reading");
  useTitleBlock(card.name, `test card ${card.number}`);
  const { reading } = card;
  return (
    <div className="page card-page">
      <p className="path">
        <Link to="/profiles">Profiles</Link>
      </p>
      <div className="sentence-row">
        <h1>
          {card.name}, by test card <span className="number">{card.number}</span>
        </h1>
        {mayMake && (
          <Form method="post">
            <input type="hidden" name="intent" value="delete" />
            <Button type="submit" size="sm" variant="outline-secondary">
              Delete the card
            </Button>
          </Form>
        )}
      </div>
      <Refusal result={actionData} />
      {unread && <Alert variant="warning">{unread}</Alert>}
      {card.state === "failed" && card.failure !== unread && (
        <Alert variant="warning" role="alert">
          {card.failure}
        </Alert>
      )}
      {card.profile && (
        <p>
          By it, the profile <Link to={`/profiles/${card.profile}`}>{card.profile}</Link> was made.
        </p>
      )}
      <div className="card-columns">
        {(card.flat || !unread) && (
          <section aria-labelledby="card-picture">
            <h2 id="card-picture">
              {reading ? "The card in the picture that came" : "The card, as it lies on the panel"}
            </h2>
            <CardPicture
              number={card.number}
              flat={card.flat}
              patches={(!unread && looked && reading?.answers[looked].patches) || []}
            />
            {reading && <p className="dim">{lieOf(reading)}</p>}
            {!unread && <Lay card={card} mayMake={mayMake} />}
          </section>
        )}
        {reading ? (
          <Answers card={card} reading={reading} mayMake={mayMake} onLook={setLooked} />
        ) : (
          !unread && <Steps card={card} />
        )}
      </div>
    </div>
  );
}

function lieOf({ isMirrored, quarters, isRepeated }: NonNullable<CardRow["reading"]>): string {
  const says = [
    isMirrored && "It is mirrored: this renderer exchanges left and right, or up and down.",
    quarters > 0 && `It is turned by ${quarters * 90}° clockwise.`,
    isRepeated &&
      "Another card lies beside it: the size was read smaller than it was entered. Enter it in another unit.",
  ].filter(Boolean);
  return says.length > 0
    ? says.join(" ")
    : "It lies upright, and no other card beside it. Where it fills the panel, the size was read as it was entered.";
}

/** Gives the card out, and takes its picture in. */
function Lay({ card, mayMake }: { card: CardRow; mayMake: boolean }) {
  return (
    <div className="card-lay">
      {card.files ? (
        <a
          className="btn btn-outline-secondary btn-sm"
          href={`/files/${card.files}`}
          download={`card-${String(card.number).padStart(4, "0")}.zip`}
        >
          Download the card
        </a>
      ) : (
        <p role="status">The card is being painted …</p>
      )}
      {card.files && mayMake && <HandInCard card={card} />}
    </div>
  );
}

function Steps({ card: { number } }: { card: CardRow }) {
  return (
    <section aria-labelledby="card-steps">
      <h2 id="card-steps">How a picture of it is made</h2>
      <ol className="card-steps">
        {CARD_STEPS.map((step) => (
          <li key={step}>{step}</li>
        ))}
      </ol>
      <table className="ledger tight">
        <thead>
          <tr>
            <th scope="col">File</th>
            <th scope="col">Goes into</th>
          </tr>
        </thead>
        <tbody>
          {Object.entries(CARD_INPUTS).map(([file, input]) => (
            <tr key={file}>
              <th scope="row" className="file text-nowrap">
                {cardFileName(number, file as CardFile)}
              </th>
              <td>{input}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

function Answers(props: {
  card: CardRow;
  reading: NonNullable<CardRow["reading"]>;
  mayMake: boolean;
  onLook(question: CardQuestion | undefined): void;
}) {
  const { card, reading, mayMake, onLook } = props;
  const open = CARD_QUESTION_NAMES.filter((question) => !reading.answers[question].isSure).length;
  const busy = useNavigation().state !== "idle";
  return (
    <section aria-labelledby="card-answers">
      <h2 id="card-answers">What it says of {card.name}</h2>
      <p>
        {open === 0
          ? "All is sure."
          : `${open} of ${CARD_QUESTION_NAMES.length} it does not tell for sure: look at those, and say them yourself.`}
      </p>
      <Form method="post" className="card-answers" key={card.picture}>
        <input type="hidden" name="intent" value="profile" />
        <fieldset disabled={!mayMake}>
          <legend className="visually-hidden">What the renderer does</legend>
          {CARD_QUESTION_NAMES.map((question) => (
            <CardAnswerRow
              key={question}
              question={CARD_QUESTIONS[question]}
              name={question}
              answer={reading.answers[question]}
              onLook={(isLooked) => onLook(isLooked ? question : undefined)}
            />
          ))}
          {mayMake && (
            <div className="inline-form">
              <Fields.Group controlId="card-name">
                <Fields.Label>Name of the profile</Fields.Label>
                <Fields.Control size="sm" name="name" defaultValue={card.name} maxLength={80} required />
              </Fields.Group>
              <Fields.Group controlId="card-unit">
                <Fields.Label>Its size was entered in</Fields.Label>
                <Fields.Select size="sm" name="unit" defaultValue="cm">
                  <option value="mm">millimetres</option>
                  <option value="cm">centimetres</option>
                  <option value="m">metres</option>
                  <option value="in">inches</option>
                </Fields.Select>
              </Fields.Group>
              <Button type="submit" size="sm" disabled={busy}>
                Create the profile
              </Button>
            </div>
          )}
        </fieldset>
      </Form>
    </section>
  );
}
